namespace Tachyscope.Analysis.Statistics;

/// <summary>Which values lie so far from all others that they are of another kind.</summary>
internal static class Strays
{
    /// <summary>Fewer values tell nothing.</summary>
    public const int FewestValues = 6;

    private const double Deviations = 10;

    /// <summary>
    /// Places of the values that are more than ten times as far off the middle as is usual, and more than a least distance.
    /// </summary>
    /// <param name="values">The values, finite.</param>
    /// <param name="least">The least distance.</param>
    public static int[] Of(double[] values, double least)
    {
        if (values.Length < FewestValues)
        {
            return [];
        }

        var middle = SampleStatistics.Median(values);
        var most = Math.Max(least, Deviations * SampleStatistics.NormalDeviation(values));
        return [.. Enumerable.Range(0, values.Length).Where(place => Math.Abs(values[place] - middle) > most)];
    }
}
