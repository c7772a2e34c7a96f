using System.Collections.Frozen;

namespace Tachyscope.Code.Listings;

/// <summary>
/// Tells the instrument's own instructions in a measured loop from the user's, where the operation was inlined: what touches the object
/// that holds input and result, what counts calls down, what goes round, and all that is done once, before the loop and behind it.
/// </summary>
public sealed class LoopFrame
{
    private const string Instrument = "Tachyscope.Measuring.";

    private readonly FrozenSet<MachineInstruction> _users;

    private LoopFrame(IEnumerable<MachineInstruction> users)
        => _users = users.ToFrozenSet<MachineInstruction>(ReferenceEqualityComparer.Instance);

    /// <summary>Whether an instruction is the user's.</summary>
    /// <param name="instruction">An instruction of the loop's listing.</param>
    public bool IsUsers(MachineInstruction instruction) => _users.Contains(instruction);

    /// <summary>The user's part of the loop as a listing of its own.</summary>
    /// <param name="loop">The loop's listing.</param>
    /// <param name="operation">What to call it.</param>
    public MachineListing Users(MachineListing loop, string operation)
    {
        ArgumentNullException.ThrowIfNull(loop);
        List<MachineBlock> blocks = [.. loop.Blocks.Select(block => block with { Instructions = [.. block.Instructions.Where(IsUsers)] })];
        return loop with
        {
            Method = $"{operation}, within the measured loop", Blocks = blocks,
            CodeBytes = blocks.Sum(block => block.Instructions.Sum(instruction => instruction.Length)),
        };
    }

    /// <summary>Looks at a measured loop's listing.</summary>
    /// <param name="loop">The listing.</param>
    /// <returns>What is whose; null where the loop that counts calls down is not found.</returns>
    public static LoopFrame? Of(MachineListing loop)
    {
        ArgumentNullException.ThrowIfNull(loop);
        var (chamber, count) = (Holders(loop, "di"), Holders(loop, "si"));
        var graph = new FlowGraph(loop);
        var counting = Enumerable.Range(0, loop.Blocks.Count).LastOrDefault(index => CountsDown(loop.Blocks[index], count)
            && graph.GoesRound(index), -1);
        // What decides to go round again, and what follows it, are of the loop.
        var round = counting < 0 ? [] : loop.Blocks[counting].Instructions.Skip(Counted(loop.Blocks[counting], count) + 1)
            .ToHashSet<MachineInstruction>(ReferenceEqualityComparer.Instance);
        return counting < 0 ? null : new(Enumerable.Range(0, loop.Blocks.Count).Where(index => graph.IsRoundWith(counting, index))
            .SelectMany(index => BeforeItIsChained(loop.Blocks[index].Instructions, chamber)
                .Where(instruction => instruction.Mnemonic is not ("align" or "nop" or "int3")
                && !Touches(instruction, chamber) && !Touches(instruction, count)
                && !(index == counting && round.Contains(instruction))
                && instruction.Callee?.StartsWith(Instrument, StringComparison.Ordinal) != true)));
    }

    // A result becomes the next input by a mask that the object holds, and what follows; where that needs a register of its own, one of
    // the two is moved there first.
    private static IEnumerable<MachineInstruction> BeforeItIsChained(IReadOnlyList<MachineInstruction> block, HashSet<string> chamber)
    {
        for (var index = 0; index < block.Count; index++)
        {
            var before = index > 0 && block[index - 1].Mnemonic.Contains("mov", StringComparison.Ordinal)
                && First(block[index - 1]) is { } moved && moved == First(block[index]) ? block[index - 1] : null;
            if (block[index].Mnemonic == "and" && (Touches(block[index], chamber) || (before is not null && Touches(before, chamber))))
            {
                return block.Take(before is null ? index : index - 1);
            }
        }

        return block;

        static string? First(MachineInstruction instruction)
            => OperandText.Split(instruction.Operands).Take(1).Where(operand => !OperandText.IsMemory(operand))
                .SelectMany(OperandText.Registers).FirstOrDefault();
    }

    // The registers and places of the frame that hold an argument, from what the first block does with it.
    private static HashSet<string> Holders(MachineListing loop, string argument)
    {
        HashSet<string> holders = [];
        foreach (var instruction in loop.Blocks.Take(2).SelectMany(block => block.Instructions)
            .Where(instruction => instruction.Mnemonic == "mov"))
        {
            var operands = OperandText.Split(instruction.Operands).ToList();
            if (operands.Count == 2 && OperandText.Registers(operands[1]).FirstOrDefault() == argument
                && !OperandText.IsMemory(operands[1]))
            {
                holders.Add(OperandText.IsMemory(operands[0]) ? operands[0] : OperandText.Registers(operands[0]).First());
            }
        }

        return holders.Count > 0 ? holders : [argument];
    }

    private static bool Touches(MachineInstruction instruction, HashSet<string> holders)
        => OperandText.Split(instruction.Operands).Any(holders.Contains)
            || OperandText.Registers(instruction.Operands).Any(holders.Contains);

    private static bool CountsDown(MachineBlock block, HashSet<string> count)
        => Counted(block, count) is var last and >= 0 && last + 1 < block.Instructions.Count && block.Instructions[last + 1].IsBranch;

    // Where a block last looks at the count; -1 when it does not.
    private static int Counted(MachineBlock block, HashSet<string> count)
    {
        for (var index = block.Instructions.Count - 1; index >= 0; index--)
        {
            if (block.Instructions[index].Mnemonic is "dec" or "sub" or "add" or "test" or "cmp"
                && Touches(block.Instructions[index], count))
            {
                return index;
            }
        }

        return -1;
    }
}
