using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>A variant compared with the baseline on one input.</summary>
public sealed record Contrast
{
    /// <summary>The variant's time as a multiple of the baseline's, with its interval.</summary>
    public required Interval TimeRatio { get; init; }

    /// <summary>What it says.</summary>
    public required Verdict Verdict { get; init; }

    /// <summary>The same where every variant had a worker of its own; null when that was not measured.</summary>
    public Interval? ApartTimeRatio { get; init; }

    /// <summary>What each repeat of the comparison found by itself; empty when it was made once.</summary>
    public IReadOnlyList<RepeatedContrast> Repeats { get; init; } = [];

    /// <summary>Share of the baseline's time that the variant saves; negative when it takes longer.</summary>
    public double ShareSaved => 1 - TimeRatio.Estimate;
}
