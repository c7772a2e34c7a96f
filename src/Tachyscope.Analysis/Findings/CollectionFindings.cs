namespace Tachyscope.Analysis.Findings;

/// <summary>What the garbage collector did during a cell's readings.</summary>
public sealed record CollectionFindings
{
    /// <summary>Collections of each generation alone, from 0 to 2, per million calls.</summary>
    public required IReadOnlyList<double> PerMillionCalls { get; init; }

    /// <summary>Collections that were seen in all, which tells how well that is known.</summary>
    public required long Seen { get; init; }

    /// <summary>Time the process was paused, per call, in nanoseconds.</summary>
    public required double PauseNanosecondsPerCall { get; init; }

    /// <summary>Share of the readings that the collector was kept out of; null when that was not asked for.</summary>
    public double? HeldShare { get; init; }
}
