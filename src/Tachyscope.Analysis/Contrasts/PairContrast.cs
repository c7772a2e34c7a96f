using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>Two rows of a study compared on one input.</summary>
/// <param name="Row">Index of the row.</param>
/// <param name="Other">Index of the row it is compared with.</param>
/// <param name="TimeRatio">The row's time as a multiple of the other's.</param>
/// <param name="Verdict">What it says of the row.</param>
/// <param name="SittingsToDecide">Sittings after which the verdict would probably be clear; null when it is clear, or no number of them would do.</param>
public readonly record struct PairContrast(int Row, int Other, Interval TimeRatio, Verdict Verdict, int? SittingsToDecide = null)
{
    /// <summary>The same pair seen from the other row.</summary>
    public PairContrast Reversed() => new(
        Other, Row,
        TimeRatio with { Estimate = 1 / TimeRatio.Estimate, Lower = 1 / TimeRatio.Upper, Upper = TimeRatio.Lower > 0 ? 1 / TimeRatio.Lower : double.PositiveInfinity },
        Verdict switch { Verdict.Faster => Verdict.Slower, Verdict.Slower => Verdict.Faster, _ => Verdict },
        SittingsToDecide);
}
