namespace Tachyscope.Analysis.Doubts;

/// <summary>Two heaps that a sample falls into.</summary>
/// <param name="Distance">Distance of their means.</param>
/// <param name="UpperShare">Share of values in the upper one.</param>
/// <remarks>
/// The best split of the sorted values into two is the one that leaves the least variance within both (Otsu, "A threshold
/// selection method from gray-level histograms", 1979). A normal sample leaves 36 % of its variance, a uniform one 25 %; two
/// heaps are claimed when no more than 15 % is left and either holds at least 15 % of the values.
/// </remarks>
internal sealed record Modes(double Distance, double UpperShare)
{
    private const int FewestValues = 30;
    private const double LeastShare = 0.15;
    private const double MostVarianceLeft = 0.15;

    /// <summary>The two heaps; null when there is one, or more than two.</summary>
    public static Modes? Find(double[] values)
    {
        if (values.Length < FewestValues)
        {
            return null;
        }

        double[] sorted = [.. values];
        Array.Sort(sorted);
        var mean = sorted.Average();
        var total = sorted.Sum(value => (value - mean) * (value - mean));
        var (sum, best, bestSplit) = (0.0, 0.0, 0);
        for (var split = 1; split < sorted.Length; split++)
        {
            sum += sorted[split - 1] - mean;
            var share = (double)split / sorted.Length;
            // Variance between the heaps, as a share of all.
            var between = sum * sum / (sorted.Length * share * (1 - share)) / total;
            if (between > best && share is >= LeastShare and <= 1 - LeastShare)
            {
                (best, bestSplit) = (between, split);
            }
        }

        return total > 0 && 1 - best <= MostVarianceLeft
            ? new Modes(sorted.AsSpan(bestSplit).ToArray().Average() - sorted.AsSpan(0, bestSplit).ToArray()
                .Average(), 1 - ((double)bestSplit / sorted.Length))
            : null;
    }
}
