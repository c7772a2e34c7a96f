namespace Tachyscope.Code.Listings;

/// <summary>One version of a method's machine code, as the runtime's compiler or a disassembler told it.</summary>
public sealed record MachineListing
{
    /// <summary>The method, as the listing names it, such as <c>Chart:Nearest(int):Beacon:this</c>.</summary>
    public required string Method { get; init; }

    /// <summary>How far it is optimised, in the compiler's own word, such as <c>Tier1</c>.</summary>
    public required string Tier { get; init; }

    /// <summary>Processor and instruction set it was made for, as the listing says.</summary>
    public string Instructions { get; init; } = "";

    /// <summary>Whose counts of calls and branches it was made by, such as <c>Dynamic PGO</c>; null when by none.</summary>
    public string? Profile { get; init; }

    /// <summary>Its blocks, in order; empty when it is not optimised, or when it could not be read.</summary>
    public IReadOnlyList<MachineBlock> Blocks { get; init; } = [];

    /// <summary>Constants that lie behind the code, by their names.</summary>
    public IReadOnlyDictionary<string, string> Constants { get; init; } = new Dictionary<string, string>();

    /// <summary>Indices of the blocks that a jump through a table may go to.</summary>
    public IReadOnlyList<int> Cases { get; init; } = [];

    /// <summary>Length in bytes.</summary>
    public int CodeBytes { get; init; }

    /// <summary>The listing as it was told.</summary>
    public IReadOnlyList<string> Raw { get; init; } = [];

    /// <summary>Why it could not be read; null when it could.</summary>
    public string? Problem { get; init; }

    /// <summary>Whether this is code of the last tier, which goes on being used; code that begins in the middle of a loop is not.</summary>
    public bool IsFinal => Tier is "Tier1" or "FullOpts" or "Tier0-FullOpts" or AheadOfTime;

    /// <summary>The tier of code that was compiled before the program ran.</summary>
    public const string AheadOfTime = "ahead of time";

    /// <summary>Whether it is for the kind of processor whose instructions are understood; others are shown as they were told.</summary>
    public bool IsUnderstood => Instructions.Contains("X64", StringComparison.Ordinal);

    /// <summary>All instructions, in order.</summary>
    public IEnumerable<MachineInstruction> All => Blocks.SelectMany(block => block.Instructions);
}
