namespace Tachyscope.Analysis.Statistics;

/// <summary>How far a ratio is known, and what it takes to know it better.</summary>
internal static class Width
{
    /// <summary>Half of a ratio's interval, as a logarithm.</summary>
    public static double Of(Interval ratio) => ratio.Through(Math.Log).HalfWidth;

    /// <summary>
    /// Sittings after which an interval will probably be that much narrower: widths shrink with the square root of their number.
    /// </summary>
    /// <param name="sittings">Sittings it was made of.</param>
    /// <param name="times">How many times as wide it is as it should be.</param>
    /// <returns>Null when nothing can be told yet.</returns>
    public static int? SittingsNeeded(int sittings, double times)
        => double.IsFinite(times) ? (int)Math.Ceiling(Math.Min(sittings * times * times, int.MaxValue / 2)) : null;
}
