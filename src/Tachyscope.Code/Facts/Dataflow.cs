using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Facts;

/// <summary>What an instruction's result hangs on: registers, flags and places in memory by name.</summary>
/// <param name="Reads">Registers and flags it computes with.</param>
/// <param name="Address">Registers that tell where in memory it reads or writes.</param>
/// <param name="Writes">Registers, flags and the place in memory that hold its result.</param>
/// <param name="Place">The place in memory it reads or writes, as the listing names it; null when it does neither.</param>
/// <param name="IsLoading">Whether it reads that place.</param>
internal sealed record Dataflow(
    IReadOnlyList<string> Reads, IReadOnlyList<string> Address, IReadOnlyList<string> Writes, string? Place, bool IsLoading)
{
    /// <summary>From an address to what lies there, on the quickest processors.</summary>
    public const double LeastCyclesOfLoad = 4;

    private const string Flags = "flags";

    private static readonly string[] s_padding = ["align", "nop", "int3", "vzeroupper", "jmp", "prefetch", "ret"];

    // Of repeated, stack and system instructions it is not told what they hang on.
    private static readonly string[] s_unknown = ["rep", "push", "pop", "xchg", "xadd", "cmpxchg", "lock", "cpuid", "rdtsc", "xgetbv",
        "vpgather", "vgather", "vpscatter", "vscatter", "cmps", "scas", "lods", "stos", "movsb", "movsq", "call", "leave"];

    private static readonly string[] s_comparing = ["cmp", "test", "bt", "vucomis", "vcomis", "ucomis", "comis", "vptest", "vtest", "ptest",
        "kortest", "ktest"];

    // What only moves, widens or converts has a result of its own; what computes with two operands adds to the first.
    private static readonly string[] s_fresh = ["mov", "lea", "cvt", "set", "lzcnt", "tzcnt", "popcnt", "bsf", "bsr", "sqrt", "pshuf",
        "rorx", "sarx", "shlx", "shrx", "andn", "bls", "bextr", "pdep", "pext", "pabs", "kmov"];

    private static readonly string[] s_adding = ["vfm", "vfnm", "vpternlog", "vpdp", "vpermt2", "vpermi2"];
    private static readonly string[] s_flagless = ["mov", "lea", "set", "cmov", "v", "not", "rorx", "sarx", "shlx", "shrx", "mulx", "pdep",
        "pext", "cvt", "bswap", "cdq", "cqo", "k", "p", "adds", "muls", "subs", "divs", "sqrt", "min", "max", "xorp", "andp", "orp"];

    private static readonly (string Beginning, double Cycles)[] s_latencies =
    [
        ("movsx", 1), ("vmov", 0), ("mov", 0), ("imul", 3), ("mul", 3), ("idiv", 6), ("div", 6), ("vdiv", 8), ("vsqrt", 9), ("vmul", 3),
        ("vadd", 2), ("vsub", 2), ("vfm", 4), ("vfnm", 4), ("vcvt", 3), ("vpmull", 3), ("vpmadd", 3), ("vpmul", 3), ("pdep", 3),
        ("pext", 3), ("vround", 3), ("vrndscale", 3),
    ];

    /// <summary>Whether it is told what an instruction's result hangs on.</summary>
    public static bool IsKnown(MachineInstruction instruction)
        => (instruction.Mnemonic == "popcnt" || !s_unknown.Any(name => instruction.Mnemonic.StartsWith(name, StringComparison.Ordinal)))
            && !instruction.Operands.StartsWith("lock", StringComparison.Ordinal);

    /// <summary>From its operands to its result, no longer than on current processors; 0 for what they take out by renaming.</summary>
    public static double LeastCycles(MachineInstruction instruction)
        => IsClearing(instruction) || IsStep(instruction) || Begins(instruction, s_padding) ? 0
            : s_latencies.Where(entry => instruction.Mnemonic.StartsWith(entry.Beginning, StringComparison.Ordinal))
                .Select(entry => (double?)entry.Cycles).FirstOrDefault() ?? 1;

    /// <summary>What an instruction's result hangs on.</summary>
    public static Dataflow Of(MachineInstruction instruction)
    {
        var name = instruction.Mnemonic;
        if (Begins(instruction, s_padding) || instruction.IsBranch)
        {
            return new([], [], [], null, false);
        }

        var operands = OperandText.Split(instruction.Operands).ToList();
        var memory = name == "lea" ? null : operands.Find(OperandText.IsMemory);
        List<string> address = memory is null ? [] : [.. OperandText.Registers(memory)];
        var isComparing = Begins(instruction, s_comparing);
        var isAdding = IsAdding(name, operands.Count);
        List<string> reads = [.. operands.Skip(isComparing || isAdding ? 0 : 1).Where(operand => operand != memory)
            .SelectMany(OperandText.Registers)];
        List<string> writes = isComparing ? [Flags] : [];
        if (!isComparing && operands.Count > 0)
        {
            writes.AddRange(operands[0] == memory ? [memory] : OperandText.Registers(operands[0]).Take(1));
        }

        Implied(name, operands, reads, writes);
        if (IsClearing(instruction))
        {
            reads.Clear();
        }

        var isLoading = memory is not null && (operands[0] != memory || isComparing || isAdding);
        return new(reads, address, writes, memory, isLoading);
    }

    private static void Implied(string name, List<string> operands, List<string> reads, List<string> writes)
    {
        // Both halves of a product or of what is divided stand as one operand, such as edx:eax, or are not named at all.
        if (name is "mul" or "imul" or "div" or "idiv" && (operands.Count == 1 || operands[0].Contains(':', StringComparison.Ordinal)))
        {
            reads.Clear();
            reads.AddRange(["ax", .. OperandText.Registers(operands[^1]).Where(_ => !OperandText.IsMemory(operands[^1]))]);
            reads.AddRange(name is "div" or "idiv" ? ["dx"] : []);
            writes.Clear();
            writes.AddRange(["ax", "dx"]);
        }
        else if (name is "cdq" or "cqo")
        {
            reads.Add("ax");
            writes.Add("dx");
        }
        else if (name is "mulx")
        {
            reads.Add("dx");
            writes.AddRange(operands.Skip(1).Take(1).SelectMany(OperandText.Registers));
        }

        if (name.StartsWith("cmov", StringComparison.Ordinal) || name.StartsWith("set", StringComparison.Ordinal) || name is "adc" or "sbb")
        {
            reads.Add(Flags);
        }

        if (writes.Count > 0 && writes[0] != Flags && !s_flagless.Any(flagless => name.StartsWith(flagless, StringComparison.Ordinal)))
        {
            writes.Add(Flags);
        }
    }

    // Whether the first operand is read as well.
    private static bool IsAdding(string name, int operands)
        => name[0] == 'v' ? s_adding.Any(adding => name.StartsWith(adding, StringComparison.Ordinal))
            : operands < 3 ? !s_fresh.Any(fresh => name.StartsWith(fresh, StringComparison.Ordinal))
            : name is "shld" or "shrd";

    // A register made zero by itself hangs on nothing.
    private static bool IsClearing(MachineInstruction instruction)
        => instruction.Mnemonic is "xor" or "sub" or "vxorps" or "vxorpd" or "vpxor" or "vpxord" or "vpxorq" or "xorps" or "xorpd" or "pxor"
            && OperandText.Split(instruction.Operands).TakeLast(2).ToList() is [var left, var right] && left == right;

    // A register moved on by a constant: some processors add such steps up where they rename registers.
    private static bool IsStep(MachineInstruction instruction)
        => instruction.Mnemonic is "add" or "sub" or "inc" or "dec" or "lea"
            && OperandText.Split(instruction.Operands).ToList() is var operands && !OperandText.IsMemory(operands[0])
            && operands.Skip(1).SelectMany(OperandText.Registers).Count() <= (instruction.Mnemonic == "lea" ? 1 : 0);

    private static bool Begins(MachineInstruction instruction, string[] names)
        => names.Any(name => instruction.Mnemonic.StartsWith(name, StringComparison.Ordinal));
}
