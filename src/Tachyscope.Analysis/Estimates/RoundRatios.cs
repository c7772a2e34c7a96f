using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Estimates;

/// <summary>What two cells come to round by round, where one may have no time at all in a round, or in none.</summary>
internal static class RoundRatios
{
    /// <summary>Log of one time over another in every round.</summary>
    /// <param name="times">Times of the one; NaN where it took no part.</param>
    /// <param name="others">Times of the other.</param>
    /// <param name="atMost">What the one takes at most, which then stands for it in every round; null where it was measured.</param>
    /// <param name="otherAtMost">The same of the other.</param>
    /// <returns>
    /// NaN where one took no part or neither has a time above 0. Where one of the two has none, it lies below all that have: the
    /// ratio is infinite, and keeps its rank.
    /// </returns>
    public static double[] Logs(double[] times, double[] others, double? atMost, double? otherAtMost)
    {
        var logs = new double[times.Length];
        for (var round = 0; round < logs.Length; round++)
        {
            var took = !double.IsNaN(times[round]) && !double.IsNaN(others[round]);
            var (time, other) = (atMost ?? times[round], otherAtMost ?? others[round]);
            logs[round] = !took ? double.NaN
                : time > 0 ? other > 0 ? Math.Log(time / other) : double.PositiveInfinity
                : other > 0 ? double.NegativeInfinity : double.NaN;
        }

        return logs;
    }

    /// <summary>
    /// Mean of the middle half; where some of that is infinite, the middle one by rank, and of two in the middle the one that is not.
    /// </summary>
    /// <param name="logs">The ratios.</param>
    public static double Middle(double[] logs)
    {
        var ranked = Array.FindAll(logs, log => !double.IsNaN(log));
        Array.Sort(ranked);
        if (ranked.Length == 0)
        {
            return double.NaN;
        }

        var half = SampleStatistics.MiddleOf(ranked);
        if (double.IsFinite(half[0]) && double.IsFinite(half[^1]))
        {
            return SampleStatistics.Mean(half);
        }

        var (lower, upper) = (ranked[(ranked.Length - 1) / 2], ranked[ranked.Length / 2]);
        return double.IsFinite(lower) && double.IsFinite(upper) ? (lower + upper) / 2
            : double.IsFinite(lower) ? lower
            : upper;
    }
}
