using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Facts;

/// <summary>Counts what machine code is made of.</summary>
public static class FactFinder
{
    private const string Helper = "CORINFO_HELP_";
    private const string OutOfRange = "CORINFO_HELP_RNGCHKFAIL";
    private const string OutOfRangeAhead = "ThrowHelpers__ThrowIndexOutOfRangeException";

    // What the helpers are called in programs compiled ahead of time.
    private static readonly (string Beginning, string Helper)[] s_ahead =
    [
        ("RhpNew", "NEW"), ("RhNew", "NEW"), ("RhBox", "BOX"), ("RhpAssignRef", "ASSIGN"), ("RhpCheckedAssignRef", "ASSIGN"),
        ("RhpByRefAssignRef", "ASSIGN"), ("S_P_CoreLib_System_Runtime_TypeCast__CheckArrayStore", "ARRADDR_ST"),
        ("S_P_CoreLib_System_Runtime_TypeCast__", "CHKCAST"), ("S_P_CoreLib_Internal_Runtime_CompilerHelpers_ThrowHelpers__", "THROW"),
    ];

    private static readonly string[] s_allocating = ["NEW", "BOX", "READYTORUN_NEW"];
    private static readonly string[] s_typeChecks = ["ISINSTANCE", "CHKCAST", "UNBOX", "READYTORUN_ISINSTANCE", "READYTORUN_CHKCAST"];
    private static readonly string[] s_barriers = ["ASSIGN", "CHECKED_ASSIGN", "ARRADDR_ST", "BULK_WRITEBARRIER"];
    private static readonly string[] s_throwing = ["THROW", "RNGCHKFAIL", "OVERFLOW", "FAIL_FAST", "RETHROW"];
    private static readonly string[] s_slow = ["div", "idiv", "sqrt"];

    // What only moves, clears or widens, and is used for copying memory as well.
    private static readonly string[] s_moving = ["mov", "zero", "xor", "cvt", "broadcast", "insr", "insert", "extr", "extract", "comis",
        "andp", "andnp", "orp"];

    /// <summary>Counts in the code of an operation and of all that was followed from it.</summary>
    /// <param name="tree">The code; its listings were read.</param>
    public static CodeFacts Of(CodeTree tree)
    {
        ArgumentNullException.ThrowIfNull(tree);
        var all = tree.All.ToList();
        List<CodeFacts> parts = [.. all.Select(listing => Of([.. listing.All], listing))];
        return Sum(parts, tree, tree.Callees.Count == 0 && parts[0].IsFoldedAway);
    }

    /// <summary>The counts of several parts together.</summary>
    internal static CodeFacts Sum(IReadOnlyList<CodeFacts> parts, CodeTree tree, bool isFoldedAway) => new()
    {
        Methods = parts.Count,
        Instructions = parts.Sum(part => part.Instructions),
        Bytes = parts.Sum(part => part.Bytes),
        Loops = parts.Sum(part => part.Loops),
        LoopDepth = DepthOf(tree),
        Branches = parts.Sum(part => part.Branches),
        Calls = parts.Sum(part => part.Calls),
        IndirectCalls = parts.Sum(part => part.IndirectCalls),
        Loads = parts.Sum(part => part.Loads),
        Stores = parts.Sum(part => part.Stores),
        Spills = parts.Sum(part => part.Spills),
        BoundsChecks = parts.Sum(part => part.BoundsChecks),
        Divisions = parts.Sum(part => part.Divisions),
        Atomics = parts.Sum(part => part.Atomics),
        Vectors = parts.Sum(part => part.Vectors),
        VectorBits = parts.Max(part => part.VectorBits),
        Allocations = parts.Sum(part => part.Allocations),
        TypeChecks = parts.Sum(part => part.TypeChecks),
        WriteBarriers = parts.Sum(part => part.WriteBarriers),
        OtherHelpers = parts.Sum(part => part.OtherHelpers),
        IsFoldedAway = isFoldedAway,
    };

    /// <summary>Counts in instructions of one listing.</summary>
    /// <param name="instructions">The instructions.</param>
    /// <param name="listing">The listing they are from.</param>
    public static CodeFacts Of(IReadOnlyList<MachineInstruction> instructions, MachineListing listing)
    {
        ArgumentNullException.ThrowIfNull(listing);
        var code = instructions.Where(instruction => instruction.Mnemonic is not ("align" or "nop" or "int3")).ToList();
        var all = code.ToHashSet<MachineInstruction>(ReferenceEqualityComparer.Instance);
        var vectors = code.Where(IsVector).ToList();
        return new CodeFacts
        {
            Methods = 1,
            Instructions = code.Count,
            Bytes = code.Sum(instruction => instruction.Length),
            Loops = new FlowGraph(listing).LoopHeads.Count(head => listing.Blocks[head].Instructions.Any(all.Contains)),
            LoopDepth = 0,
            Branches = code.Count(instruction => instruction.IsBranch),
            Calls = code.Count(instruction => instruction is { IsCall: true, IsIndirectCall: false } && HelperOf(instruction) is null),
            IndirectCalls = code.Count(instruction => instruction is { IsCall: true, IsIndirectCall: true }),
            Loads = code.Count(IsLoad),
            Stores = code.Count(instruction => Written(instruction) is { } written && !OperandText.IsFrame(written)),
            Spills = code.Count(instruction => Written(instruction) is { } written && OperandText.IsFrame(written)),
            BoundsChecks = code.Count(instruction => instruction is { IsBranch: true, JumpsTo: { } target }
                && listing.Blocks[target].Instructions is [{ Callee: { } failing }, ..]
                    && (failing.Contains(OutOfRange, StringComparison.Ordinal) || failing
                        .EndsWith(OutOfRangeAhead, StringComparison.Ordinal))),
            Divisions = code.Count(instruction => IsOneOf(instruction.Mnemonic.TrimStart('v'), s_slow)),
            Atomics = code.Count(instruction => instruction.Mnemonic.Contains("lock", StringComparison.Ordinal)
                || instruction.Operands.StartsWith("lock", StringComparison.Ordinal)
                || (instruction.Mnemonic is "xchg" && OperandText.IsMemory(instruction.Operands))),
            Vectors = vectors.Count,
            VectorBits = vectors.Select(Width).DefaultIfEmpty(0).Max(),
            Allocations = code.Count(instruction => HelperOf(instruction) is { } helper && IsOneOf(helper, s_allocating)),
            TypeChecks = code.Count(instruction => HelperOf(instruction) is { } helper && IsOneOf(helper, s_typeChecks)),
            WriteBarriers = code.Count(instruction => HelperOf(instruction) is { } helper && IsOneOf(helper, s_barriers)),
            OtherHelpers = code.Count(instruction => HelperOf(instruction) is { } helper
                && !IsOneOf(helper, [.. s_allocating, .. s_typeChecks, .. s_barriers, .. s_throwing])),
            IsFoldedAway = code.All(instruction
                => instruction.Mnemonic is "mov" or "movsxd" or "movzx" or "xor" or "ret" or "vmovsd" or "vmovss" or "vxorps" or "vmovups"
                && !IsLoad(instruction, isConstantCounted: false) && Written(instruction) is null),
        };
    }

    private static int DepthOf(CodeTree tree)
    {
        var depths = new FlowGraph(tree.Listing).Depths;
        var called = tree.Callees.Select(callee => DepthOf(callee) + tree.Listing.Blocks.Select((block, index) => (block, index))
            .Where(pair => pair.block.Instructions.Any(instruction => instruction.Callee == callee.Listing.Method))
                .Max(pair => depths[pair.index]));
        return depths.Concat(called).DefaultIfEmpty(0).Max();
    }

    private static bool IsOneOf(string name, IEnumerable<string> beginnings)
        => beginnings.Any(beginning => name.StartsWith(beginning, StringComparison.Ordinal));

    private static string? HelperOf(MachineInstruction instruction)
        => instruction is not { IsCall: true, Callee: { } callee } ? null
            : callee.StartsWith(Helper, StringComparison.Ordinal) ? callee[Helper.Length..]
            : s_ahead.FirstOrDefault(ahead => callee.StartsWith(ahead.Beginning, StringComparison.Ordinal)).Helper;

    private static bool IsLoad(MachineInstruction instruction) => IsLoad(instruction, isConstantCounted: true);

    private static bool IsLoad(MachineInstruction instruction, bool isConstantCounted)
        => instruction.Mnemonic != "lea" && !instruction.IsCall
            && OperandText.Split(instruction.Operands).Index().Any(operand => OperandText.IsMemory(operand.Item)
                && !OperandText.IsFrame(operand.Item)
                && (operand.Index > 0 || ReadsFirst(instruction))
                && (isConstantCounted || !operand.Item.Contains("@RWD", StringComparison.Ordinal)));

    // A comparison only reads; what computes into memory reads and writes it.
    private static bool ReadsFirst(MachineInstruction instruction) => !instruction.Mnemonic.Contains("mov", StringComparison.Ordinal)
        && !instruction.Mnemonic.StartsWith("set", StringComparison.Ordinal);

    private static string? Written(MachineInstruction instruction)
        => instruction.Mnemonic is not ("cmp" or "test" or "lea" or "push" or "bt") && !instruction.IsCall
            && !instruction.Mnemonic.Contains("comis", StringComparison.Ordinal)
                && !instruction.Mnemonic.Contains("ptest", StringComparison.Ordinal)
            && OperandText.Split(instruction.Operands).FirstOrDefault() is { } first && OperandText.IsMemory(first) ? first : null;

    private static bool IsVector(MachineInstruction instruction)
    {
        var name = instruction.Mnemonic.TrimStart('v');
        return Width(instruction) > 0 && !s_moving.Any(moving => name.Contains(moving, StringComparison.Ordinal))
            && (name.EndsWith("ps", StringComparison.Ordinal) || name.EndsWith("pd", StringComparison.Ordinal)
                || (name[0] == 'p' && name is not ("push" or "pop" or "popcnt" or "pause" or "pdep" or "pext")));
    }

    private static int Width(MachineInstruction instruction)
        => instruction.Operands.Contains("zmm", StringComparison.Ordinal) ? 512
            : instruction.Operands.Contains("ymm", StringComparison.Ordinal) ? 256
            : instruction.Operands.Contains("xmm", StringComparison.Ordinal) ? 128
            : 0;
}
