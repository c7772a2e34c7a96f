using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// Whether a core that was quiet when a reading began stayed so until it ended. Where others come and go faster than a reading lasts, a
/// gauge that is quiet before and after it is chance, and tells nothing of what lies between.
/// </summary>
internal static class CoreHold
{
    // Of nine saved runs of everyday code, what was read between two quiet gauges was within 2 % of what a quiet core takes in 119 of 143
    // cells where this share of their sitting was a half and more, and in 4 of 53 where it was a third and less: 0.3 to 1.6 times as long.
    // In an hour in which hardly any reading began beside a quiet core it was a little more than a half in one sitting or another, by
    // chance.
    private const double LeastShare = 0.6;

    /// <summary>Processors of which too few readings that began beside a quiet core ended beside one.</summary>
    /// <param name="turns">Each turn's gauges, and the largest one of a quiet core.</param>
    public static HashSet<int> TooShort(IEnumerable<(TurnGauge Gauge, int Most)> turns)
        => [.. turns.GroupBy(turn => turn.Gauge.Processor).Where(IsTooShort).Select(processor => processor.Key)];

    private static bool IsTooShort(IEnumerable<(TurnGauge Gauge, int Most)> turns)
    {
        var (before, throughout) = (0, 0);
        foreach (var (gauge, most) in turns)
        {
            for (var at = 0; at + 1 < gauge.Gauges.Count; at += 2)
            {
                var isQuiet = gauge.Gauges[at] <= most;
                (before, throughout) = (before + (isQuiet ? 1 : 0), throughout + (isQuiet && gauge.Gauges[at + 1] <= most ? 1 : 0));
            }
        }

        return throughout < LeastShare * before;
    }
}
