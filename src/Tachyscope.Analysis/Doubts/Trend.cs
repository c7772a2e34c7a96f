using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Doubts;

/// <summary>How a sitting's times change over its rounds, or over the places in them. As log ratios.</summary>
internal static class Trend
{
    private const int FewestOfThird = 2;

    /// <summary>Median of the last third of the rounds over that of the first.</summary>
    public static double OverRounds(double[] times) => Between([.. times.Where(double.IsFinite)]);

    /// <summary>Median of the rounds in which the turn came late over that of those in which it came early.</summary>
    public static double OverPlaces(double[] times, IReadOnlyList<int> places)
    {
        double[] ordered = [.. times];
        // Rounds of one place stay in their order.
        Array.Sort([.. times.Select((_, round) => ((long)places[round] << 32) | (uint)round)], ordered);
        return OverRounds(ordered);
    }

    private static double Between(double[] ordered)
    {
        var third = ordered.Length / 3;
        return third < FewestOfThird
            ? double.NaN
            : Math.Log(SampleStatistics.Median(ordered.AsSpan(ordered.Length - third)) / SampleStatistics.Median(ordered.AsSpan(0, third)));
    }
}
