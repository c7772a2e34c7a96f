using System.Globalization;
using System.Text.RegularExpressions;

namespace Tachyscope.Code.Listings;

/// <summary>
/// A listing with what does not make code differ taken out: the names of labels, how far a jump goes, which of the registers it saves
/// first holds what, and, between processes, addresses. Registers that hand over arguments and results keep their names, since they
/// tell which is which; so do all in a part of a loop, into which values come from outside.
/// </summary>
public static partial class NormalForm
{
    /// <summary>A line of the normal form, and what it was made from.</summary>
    /// <param name="Text">The normal form.</param>
    /// <param name="Shape">The same without telling which register and which label: what lines are put side by side by.</param>
    /// <param name="Shown">The same for a reader, its registers and addresses as they stood.</param>
    /// <param name="Instruction">The instruction; null for the begin of a block that is jumped to.</param>
    /// <param name="Label">The block's label; null for an instruction.</param>
    public sealed record Line(string Text, string Shape, string Shown, MachineInstruction? Instruction, string? Label);

    /// <summary>The lines of a listing.</summary>
    /// <param name="listing">A listing that was read.</param>
    /// <param name="areAddressesKept">Whether an address tells what lies there, as it does among listings of one process: another type,
    /// another delegate, another text.</param>
    public static IReadOnlyList<Line> Of(MachineListing listing, bool areAddressesKept)
    {
        ArgumentNullException.ThrowIfNull(listing);
        var entered = listing.All.Select(instruction => instruction.JumpsTo).OfType<int>().Distinct().Order().ToList();
        var labels = entered.Select((block, order) => (block, order))
            .ToDictionary(pair => pair.block, pair => string.Create(CultureInfo.InvariantCulture, $"L{pair.order + 1}"));
        var saved = listing.All.Where(IsSaving).SelectMany(instruction => OperandText.Registers(instruction.Operands)).ToHashSet();
        var registers = new Dictionary<string, string>(StringComparer.Ordinal);
        List<Line> lines = [];
        foreach (var (index, block) in listing.Blocks.Index())
        {
            if (labels.TryGetValue(index, out var label))
            {
                lines.Add(new($"{label}:", "L:", $"{label}:", null, label));
            }

            lines.AddRange(block.Instructions.Where(instruction => instruction.Mnemonic is not ("align" or "nop"))
                .Select(instruction => new Line(
                    Text(instruction, listing, areAddressesKept, target => labels[target],
                        register => Numbered(register, saved, registers)),
                    Text(instruction, listing, areAddressesKept, _ => "L", Kind),
                    Shown(instruction, listing, labels), instruction, null)));
        }

        return lines;
    }

    /// <summary>Whether two trees are the same code: their listings are, and so is all they call.</summary>
    /// <param name="one">A tree.</param>
    /// <param name="other">Another.</param>
    /// <param name="isSameProcess">Whether both are of one process.</param>
    public static bool AreSame(CodeTree one, CodeTree other, bool isSameProcess)
    {
        ArgumentNullException.ThrowIfNull(one);
        ArgumentNullException.ThrowIfNull(other);
        var (lines, others) = (Of(one.Listing, isSameProcess), Of(other.Listing, isSameProcess));
        return lines.Count == others.Count && lines.Zip(others).All(pair => IsSame(pair.First, pair.Second, one, other, isSameProcess));
    }

    private static bool IsSame(Line line, Line other, CodeTree tree, CodeTree otherTree, bool isSameProcess)
    {
        // A name tells nothing of what it stands for: the same one may be other code in another process, and another one the same.
        if (line.Instruction is { Callee: { } callee, IsIndirectCall: false, Mnemonic: var mnemonic }
            && other.Instruction is { Callee: { } otherCallee, IsIndirectCall: false, Mnemonic: var otherMnemonic }
            && (Called(tree, callee), Called(otherTree, otherCallee)) is ({ } called, { } otherCalled))
        {
            return mnemonic == otherMnemonic && AreSame(called, otherCalled, isSameProcess);
        }

        return line.Text == other.Text;
    }

    private static CodeTree? Called(CodeTree tree, string callee) => tree.Callees.FirstOrDefault(called => called.Listing.Method == callee);

    private static string Shown(MachineInstruction instruction, MachineListing listing, Dictionary<int, string> labels)
        => instruction.JumpsTo is { } target ? (instruction with { Operands = labels[target] }).ToString()
            : (instruction with { Operands = ConstantName().Replace(instruction.Operands, match => Read(listing, match)) }).ToString();

    // As the number it is, where the listing says so.
    private static string Read(MachineListing listing, Match name)
        => !listing.Constants.TryGetValue(name.Groups[1].Value, out var value) ? name.Value
            : value.Split(';') is [_, var number] && !value.Contains(',', StringComparison.Ordinal) ? number.Trim() : value.Split(' ')[^1];

    private static string Text(
        MachineInstruction instruction, MachineListing listing, bool areAddressesKept, Func<int, string> label,
        Func<string, string> register)
    {
        if (instruction.JumpsTo is { } target)
        {
            return $"{instruction.Mnemonic} {label(target)}";
        }

        if (instruction is { Callee: { } callee, IsIndirectCall: false })
        {
            return $"{instruction.Mnemonic} {callee}";
        }

        if (IsSaving(instruction) || IsRestoring(instruction))
        {
            return $"{instruction.Mnemonic} saved";
        }

        var operands = Remark().Replace(instruction.Operands, "");
        operands = ConstantName().Replace(operands, match => listing.Constants.GetValueOrDefault(match.Groups[1].Value, match.Value));
        operands = areAddressesKept ? operands : Address().Replace(operands, "address");
        return instruction.Callee is { Length: > 0 } table && operands.EndsWith(table, StringComparison.Ordinal)
            ? $"{instruction.Mnemonic} {OperandText.Renamed(operands[..^table.Length], register)} {table}"
            : $"{instruction.Mnemonic} {OperandText.Renamed(operands, register)}";
    }

    // What a method saves before it uses it held nothing of its own; by both conventions of x64 these are among them.
    private static bool IsSaving(MachineInstruction instruction) => instruction.Mnemonic == "push" && IsKept(instruction.Operands);

    private static bool IsRestoring(MachineInstruction instruction) => instruction.Mnemonic == "pop" && IsKept(instruction.Operands);

    private static bool IsKept(string register) => register is "rbx" or "r12" or "r13" or "r14" or "r15";

    // In the order in which they are first named.
    private static string Numbered(string register, HashSet<string> saved, Dictionary<string, string> registers)
        => !saved.Contains(register) ? register
            : registers.TryGetValue(register, out var name) ? name
            : registers[register] = string.Create(CultureInfo.InvariantCulture, $"{Kind(register)}{registers.Count}");

    private static string Kind(string register) => register[0] switch { 'v' => "v", 'k' => "k", _ => "r" };

    [GeneratedRegex(@"\s+; .*$")]
    private static partial Regex Remark();

    [GeneratedRegex(@"reloc @(RWD\d+)")]
    private static partial Regex ConstantName();

    // Where a thing lies in this process; a constant of the code's own is shorter, or has all its sixteen digits.
    [GeneratedRegex(@"\(?(?:reloc )?0x[0-9A-Fa-f]{9,12}\)?(?![0-9A-Fa-f])")]
    private static partial Regex Address();
}
