using System.Globalization;
using System.Text.RegularExpressions;

namespace Tachyscope.Code.Listings;

/// <summary>Reads what a disassembler tells of a function that was compiled ahead of time (<c>objdump -d -w -M intel</c>, for
/// x64).</summary>
public static partial class NativeListing
{
    /// <summary>Reads one function.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="lines">The disassembler's lines.</param>
    /// <param name="nameAt">The function that begins at an address; null when none does.</param>
    public static MachineListing Read(string name, IReadOnlyList<string> lines, Func<ulong, string?> nameAt)
    {
        ArgumentNullException.ThrowIfNull(lines);
        ArgumentNullException.ThrowIfNull(nameAt);
        var listing = new MachineListing
        {
            Method = name, Tier = MachineListing.AheadOfTime, Instructions = "X64, as it was disassembled", Raw = lines,
        };
        List<(ulong Address, int Length, string Text)> read = [];
        foreach (var line in lines.Where(line => line.StartsWith(' ') && line.Contains(':', StringComparison.Ordinal)))
        {
            if (Line().Match(line) is not { Success: true } match)
            {
                return listing with { Problem = $"\"{line.Trim()}\" is in no form known" };
            }

            read.Add((ulong.Parse(match.Groups[1].ValueSpan, NumberStyles.HexNumber, CultureInfo.InvariantCulture),
                match.Groups[2].Value.Count(char.IsAsciiHexDigit) / 2, match.Groups[3].Value.Trim()));
        }

        // Functions are set apart by padding.
        while (read.Count > 0 && Padding().IsMatch(read[^1].Text))
        {
            read.RemoveAt(read.Count - 1);
        }

        return read.Count == 0 ? listing with { Problem = "it has no instructions" } : Blocks(listing, read, nameAt);
    }

    private static MachineListing Blocks(
        MachineListing listing, List<(ulong Address, int Length, string Text)> read, Func<ulong, string?> nameAt)
    {
        var begin = read[0].Address;
        var inside = read.Select(instruction => instruction.Address).ToHashSet();
        List<ulong> heads = [begin];
        heads.AddRange(read.Select(instruction => TargetOf(instruction.Text)).OfType<ulong>().Where(inside.Contains));
        var blocks = heads.Distinct().Order().Select((address, index) => (address, index)).ToDictionary();
        List<MachineBlock> made = [];
        List<MachineInstruction> instructions = [];
        foreach (var (address, length, text) in read)
        {
            if (blocks.ContainsKey(address))
            {
                instructions = [];
                made.Add(new MachineBlock(string.Create(CultureInfo.InvariantCulture, $"B{made.Count + 1}"), (int)(address - begin),
                    instructions));
            }

            instructions.Add(Instruction((int)(address - begin), length, text, blocks, nameAt));
        }

        return listing with { Blocks = made, CodeBytes = read.Sum(instruction => instruction.Length) };
    }

    private static MachineInstruction Instruction(
        int offset, int length, string text, Dictionary<ulong, int> blocks, Func<ulong, string?> nameAt)
    {
        // What the disassembler adds behind an address that is counted from here is the address itself.
        var place = Absolute().Match(text);
        var bare = Remark().Replace(text, "").Trim();
        var space = bare.IndexOf(' ', StringComparison.Ordinal);
        var (mnemonic, operands) = space < 0 ? (bare, "") : (bare[..space], bare[space..].Trim().ToLowerInvariant());
        operands = place.Success ? Relative().Replace(operands, $"[0x{place.Groups[1].Value}]") : operands;
        var instruction = new MachineInstruction(offset, length, mnemonic, operands.Replace(",", ", ", StringComparison.Ordinal));
        if (TargetOf(text) is { } target)
        {
            return mnemonic != "call" && blocks.TryGetValue(target, out var block)
                ? instruction with { JumpsTo = block, Operands = string.Create(CultureInfo.InvariantCulture, $"B{block + 1}") }
                : instruction with
                {
                    Callee = nameAt(target) ?? $"0x{target:x}",
                    Operands = nameAt(target) ?? instruction.Operands,
                };
        }

        return mnemonic == "call" ? instruction with { Callee = "", IsIndirectCall = true } : instruction;
    }

    private static ulong? TargetOf(string text) => Target().Match(text) is { Success: true } target
        ? ulong.Parse(target.Groups[1].ValueSpan, NumberStyles.HexNumber, CultureInfo.InvariantCulture) : null;

    [GeneratedRegex(@"^\s+([0-9a-f]+):\t((?:[0-9a-f]{2} )+)\s*(?:\t(.*))?$")]
    private static partial Regex Line();

    [GeneratedRegex(@"^(?:call|j[a-z]+)\s+(?:0x)?([0-9a-f]+)(?:\s|$)")]
    private static partial Regex Target();

    [GeneratedRegex(@"#\s+(?:0x)?([0-9a-f]+)\b")]
    private static partial Regex Absolute();

    [GeneratedRegex(@"\s+[#<].*$")]
    private static partial Regex Remark();

    [GeneratedRegex(@"\[rip[+-]0x[0-9a-f]+\]")]
    private static partial Regex Relative();

    [GeneratedRegex(@"^(?:nop|xchg\s+ax,ax|(?:data16 |cs )+.*nop.*|nop\s.*)$")]
    private static partial Regex Padding();
}
