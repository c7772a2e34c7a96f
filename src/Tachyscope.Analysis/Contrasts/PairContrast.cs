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
    /// <summary>The same pair seen from the other row.</summary>
    public PairContrast Reversed() => new(
        Other, Row,
        TimeRatio.Dividing(1),
        Verdict switch { Verdict.Faster => Verdict.Slower, Verdict.Slower => Verdict.Faster, _ => Verdict },
        SittingsToDecide);
}
