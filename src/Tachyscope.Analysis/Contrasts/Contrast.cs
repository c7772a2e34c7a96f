using Tachyscope.Analysis.Speeds;
using Tachyscope.Analysis.Stages;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>A row compared with another on one input.</summary>
public sealed record Contrast
{
    /// <summary>
    /// The row's time as a multiple of the other's; a bound where one of the two cannot be told from an empty loop. The intervals of a
    /// table hold together: each is at the level 1 − α / k for k comparisons (Bonferroni), and reaches no further than its verdict.
    /// </summary>
    public required Interval TimeRatio { get; init; }

    /// <summary>What it says.</summary>
    public required Verdict Verdict { get; init; }

    /// <summary>Index of the row it is compared with.</summary>
    public int Other { get; init; }

    /// <summary>The same with collections paid: the pauses of all readings are part of both times; null where there were none.</summary>
    public Interval? PaidTimeRatio { get; init; }

    /// <summary>Time saved per call with collections paid, in nanoseconds; negative when it takes longer.</summary>
    public Interval SavedNanosecondsPerCall { get; init; } = Interval.Unknown(0.95);

    /// <summary>Processor time saved per call, in nanoseconds.</summary>
    public Interval SavedProcessorNanosecondsPerCall { get; init; } = Interval.Unknown(0.95);

    /// <summary>
    /// Sittings after which the verdict would probably be clear; null when it is clear, or more would be needed than a comparison gets.
    /// </summary>
    public int? SittingsToDecide { get; init; }

    /// <summary>
    /// The same at each of the speeds that either of the two settles at, where their code and data come to lie otherwise; empty where both
    /// have one. <see cref="TimeRatio"/> is the mean over placements, which no single process need show.
    /// </summary>
    public IReadOnlyList<SpeedContrast> Speeds { get; init; } = [];

    /// <summary>Whether it is faster at one of these speeds and not at another, so that there is no one verdict.</summary>
    public bool DependsOnSpeed => SpeedContrast.DoDiffer(Speeds);

    /// <summary>The same where every variant had a worker of its own; null when that was not measured.</summary>
    public Interval? ApartTimeRatio { get; init; }

    /// <summary>The same where the collector was kept out; null when that was not measured beside.</summary>
    public HeldContrast? Held { get; init; }

    /// <summary>What each stage that both mark contributes to the difference, the largest first; empty when they mark none alike.</summary>
    public IReadOnlyList<StageDifference> Stages { get; init; } = [];

    /// <summary>What each repeat of the comparison found by itself; empty when it was made once.</summary>
    public IReadOnlyList<RepeatedContrast> Repeats { get; init; } = [];

    /// <summary>Share of the other's time that the row saves; negative when it takes longer.</summary>
    public double ShareSaved => 1 - TimeRatio.Estimate;
}
