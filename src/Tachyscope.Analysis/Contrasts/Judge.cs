using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>Turns an interval into a verdict.</summary>
public static class Judge
{
    /// <summary>Smallest difference that is ever claimed, as a share.</summary>
    public const double SmallestResolutionShare = 0.001;

    /// <summary>The least difference this measurement can claim: the outer end of the twin's interval, never below 0.1 %.</summary>
    /// <param name="twinTimeRatio">The twin's time as a multiple of the baseline's.</param>
    /// <returns>A share; infinity when the twin says nothing.</returns>
    public static double ResolutionShare(Interval twinTimeRatio)
    {
        if (!twinTimeRatio.IsKnown || !twinTimeRatio.IsBounded)
        {
            return double.PositiveInfinity;
        }

        var outer = Math.Max(Math.Abs(Math.Log(twinTimeRatio.Lower)), Math.Abs(Math.Log(twinTimeRatio.Upper)));
        return Math.Max(SmallestResolutionShare, Math.Exp(outer) - 1);
    }

    /// <summary>What a ratio of times says.</summary>
    /// <param name="timeRatio">A variant's time as a multiple of the baseline's.</param>
    /// <param name="resolutionShare">The least difference that can be claimed.</param>
    /// <param name="marginShare">The smallest difference that matters.</param>
    /// <remarks>
    /// "Same" is Schuirmann's two one-sided tests, 1987, at the level of the interval: the whole interval lies within the
    /// margin. It is not claimed where twins differ by more than the margin.
    /// </remarks>
    public static Verdict Decide(Interval timeRatio, double resolutionShare, double marginShare)
    {
        if (!timeRatio.IsKnown)
        {
            return Verdict.Unclear;
        }

        if (resolutionShare <= marginShare && timeRatio.Lower >= 1 / (1 + marginShare) && timeRatio.Upper <= 1 + marginShare)
        {
            return Verdict.Same;
        }

        return timeRatio.Upper < 1 / (1 + resolutionShare) ? Verdict.Faster
            : timeRatio.Lower > 1 + resolutionShare ? Verdict.Slower
            : Verdict.Unclear;
    }

    /// <summary>
    /// What a ratio says at the level of its test, and its interval at the level that is quoted, which reaches no further than that.
    /// </summary>
    /// <param name="timeRatio">The ratio's interval at any level.</param>
    /// <param name="testLevel">Level of the test.</param>
    /// <param name="quotedLevel">Level of the interval.</param>
    /// <param name="resolutionShare">The least difference that can be claimed.</param>
    /// <param name="marginShare">The smallest difference that matters.</param>
    internal static (Interval TimeRatio, Verdict Verdict) Decide(
        Func<double, Interval> timeRatio, double testLevel, double quotedLevel, double resolutionShare, double marginShare)
    {
        var quoted = timeRatio(quotedLevel);
        if (Decide(quoted, resolutionShare, marginShare) is var verdict and not Verdict.Unclear)
        {
            return (quoted, verdict);
        }

        return Decide(timeRatio(testLevel), resolutionShare, marginShare) switch
        {
            Verdict.Faster => (quoted with { Upper = 1 / (1 + resolutionShare) }, Verdict.Faster),
            Verdict.Slower => (quoted with { Lower = 1 + resolutionShare }, Verdict.Slower),
            _ => (quoted, Verdict.Unclear),
        };
    }

    /// <summary>
    /// Sittings after which a contrast that is unclear now would probably be clear, if its estimate and its twin's stay where they are.
    /// </summary>
    /// <param name="logRatio">Log of the ratio of times, over sittings.</param>
    /// <param name="level">Level of its interval.</param>
    /// <param name="logTwin">Log of the ratio of the baseline's twin to it, over sittings.</param>
    /// <param name="twinLevel">Level of the twin's interval.</param>
    /// <param name="marginShare">The smallest difference that matters.</param>
    /// <returns>Null when as many as a comparison gets at most would not do.</returns>
    public static int? CountToDecide(SampleMean logRatio, double level, SampleMean logTwin, double twinLevel, double marginShare)
    {
        var (distance, margin) = (Math.Abs(logRatio.Mean), Math.Log(1 + marginShare));
        // Both intervals shrink steadily, so that the least number is found by halving.
        var (low, high) = (2, RunPlan.MostSittings + 1);
        while (low < high)
        {
            var middle = (low + high) / 2;
            (low, high) = IsDecided(middle) ? (low, middle) : (middle + 1, high);
        }

        return low > RunPlan.MostSittings ? null : low;

        bool IsDecided(int count)
        {
            var resolution = Math.Max(Math.Log(1 + SmallestResolutionShare), Math.Abs(logTwin.Mean) + logTwin.Reach(twinLevel, count));
            var reach = logRatio.Reach(level, count);
            return distance - reach > resolution || (resolution <= margin && distance + reach <= margin);
        }
    }
}
