using Tachyscope.Analysis.Speeds;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>Two rows of a study compared on one input.</summary>
/// <param name="Row">Index of the row.</param>
/// <param name="Other">Index of the row it is compared with.</param>
/// <param name="TimeRatio">The row's time as a multiple of the other's.</param>
/// <param name="Verdict">What it says of the row.</param>
/// <param name="SittingsToDecide">
/// Sittings after which the verdict would probably be clear; null when it is clear, or more would be needed than a comparison gets.
/// </param>
public readonly record struct PairContrast(int Row, int Other, Interval TimeRatio, Verdict Verdict, int? SittingsToDecide = null)
{
    /// <summary>What they come to at each of their speeds; empty where both have one.</summary>
    public IReadOnlyList<SpeedContrast> Speeds { get; init; } = [];

    /// <summary>What one process may show: from the least of its speeds to the most, or the ratio where there is one.</summary>
    public Interval OfProcess() => Speeds.Count == 0 ? TimeRatio : TimeRatio with
    {
        Lower = Speeds.Min(speed => speed.TimeRatio.Lower), Upper = Speeds.Max(speed => speed.TimeRatio.Upper),
    };

    /// <summary>The same pair seen from the other row.</summary>
    public PairContrast Reversed() => new(Other, Row, TimeRatio.Dividing(1), Verdict.Reversed(), SittingsToDecide)
    {
        Speeds = [.. Speeds.Select(speeds => speeds.Reversed())],
    };
}
