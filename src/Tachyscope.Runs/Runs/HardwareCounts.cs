namespace Tachyscope.Runs;

/// <summary>
/// What the processor's own counters say of a call, outside the system's own code; the few instructions of the loop around the operation
/// are counted with it. What a processor does not count is null.
/// </summary>
sealed partial record HardwareCounts
{
    /// <summary>Instructions carried out.</summary>
    public double? InstructionsPerCall { get; init; }

    /// <summary>Cycles of the processor's own clock.</summary>
    public double? CyclesPerCall { get; init; }

    /// <summary>Branches that went otherwise than the processor had guessed.</summary>
    public double? BranchesMissedPerCall { get; init; }

    /// <summary>Reads and writes that the last level of the caches did not hold.</summary>
    public double? CacheMissesPerCall { get; init; }

    /// <summary>Why nothing was counted, and the way out where there is one; null when something was.</summary>
    public string? Absence { get; init; }
}
