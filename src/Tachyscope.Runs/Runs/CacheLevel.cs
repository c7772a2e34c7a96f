namespace Tachyscope.Runs;

/// <summary>One cache of the processor.</summary>
sealed partial record CacheLevel
{
    /// <summary>Its level, from 1.</summary>
    public required int Level { get; init; }

    /// <summary>What it holds: "Data", "Instruction" or "Unified".</summary>
    public required string Holds { get; init; }

    /// <summary>Its size, in bytes.</summary>
    public required long SizeBytes { get; init; }
}
