using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Speeds;

/// <summary>Two rows compared where each had one of its speeds.</summary>
/// <param name="Speed">Index of the row's speed; 0 where it has one.</param>
/// <param name="OtherSpeed">Index of the other's.</param>
/// <param name="Placements">Placements in which they met.</param>
/// <param name="TimeRatio">The row's time as a multiple of the other's; the intervals of one pair hold together.</param>
/// <param name="Verdict">What it says of the row.</param>
public sealed record SpeedContrast(int Speed, int OtherSpeed, int Placements, Interval TimeRatio, Verdict Verdict)
{
    /// <summary>Whether what is said at one speed is another thing than what is said at another, and not only less.</summary>
    internal static bool DoDiffer(IEnumerable<SpeedContrast> speeds)
        => speeds.Select(speed => speed.Verdict).Where(verdict => verdict != Verdict.Unclear).Distinct().Count() > 1;

    /// <summary>The same seen from the other row.</summary>
    public SpeedContrast Reversed() => new(OtherSpeed, Speed, Placements, TimeRatio.Dividing(1), Verdict.Reversed());
}
