using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>A variant compared with the baseline on one input.</summary>
public sealed record Contrast
{
    /// <summary>The variant's time as a multiple of the baseline's, with its interval.</summary>
    public required Interval TimeRatio { get; init; }

    /// <summary>What it says.</summary>
    public required Verdict Verdict { get; init; }

    /// <summary>Share of the baseline's time that the variant saves; negative when it takes longer.</summary>
    public double ShareSaved => 1 - TimeRatio.Estimate;
}
