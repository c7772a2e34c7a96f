using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Histories;

/// <summary>Finds where a series of times changed for good.</summary>
/// <remarks>
/// Pettitt, "A non-parametric approach to the change-point problem", 1979: with ranks, so that single outliers and times that lie in two
/// heaps raise no alarm; the probability by permutations of the series rather than by his approximation, which is no use for short ones,
/// unless by that it lies a thousandfold below what is asked for.
/// Several changes by splitting at each that is found (Vostrikova, "Detecting 'disorder' in multidimensional random processes", 1981). The
/// size of a change is the median of all differences between its two sides, with its interval by their order (Hodges and Lehmann,
/// "Estimates of location based on rank tests", 1963). It lies where two levels explain the series best, and may lie where they do nearly
/// as well, by the likelihood ratio of deviations of double-exponential form (Siegmund, "Confidence sets in change-point problems", 1988).
/// </remarks>
public static class ChangePoints
{
    /// <summary>Probability of finding a change in a series that has none, unless another is asked for.</summary>
    public const double UsualFalseAlarmProbability = 0.01;

    private const int LeastSide = 3;

    // So many permutations are to be expected beyond the limit.
    private const double PermutationsBeyond = 10;

    private const int LeastForApproximation = 30;
    private const double TimesBelow = 1_000;

    // Found by simulation: the true place lies within in 95 of 100 series with a step of two to six deviations.
    private const double LikelihoodDrop = 3.5;

    /// <summary>Finds the changes of a series.</summary>
    /// <param name="logs">Logarithms of the times, in their order; what is not finite is left out.</param>
    /// <param name="falseAlarmProbability">Probability of finding one where there is none; 0.01 by default.</param>
    /// <param name="seed">Seed of the permutations; 1 by default.</param>
    /// <returns>The changes, in order.</returns>
    /// <exception cref="ArgumentNullException"><paramref name="logs"/> is null.</exception>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="falseAlarmProbability"/> is not between 0 and 1.</exception>
    public static IReadOnlyList<ChangePoint> Find(
        IReadOnlyList<double> logs, double falseAlarmProbability = UsualFalseAlarmProbability, int seed = 1)
    {
        ArgumentNullException.ThrowIfNull(logs);
        EdgeRules.CheckLevel(1 - falseAlarmProbability);
        int[] places = [.. Enumerable.Range(0, logs.Count).Where(index => double.IsFinite(logs[index]))];
        double[] values = [.. places.Select(index => logs[index])];
        List<int> cuts = [];
        Split(values, 0, values.Length, falseAlarmProbability, new Random(seed), cuts);
        cuts.Sort();
        var found = new List<ChangePoint>();
        for (var index = 0; index < cuts.Count; index++)
        {
            var (from, to) = (index == 0 ? 0 : cuts[index - 1], index + 1 == cuts.Count ? values.Length : cuts[index + 1]);
            var (cut, first, last) = Places(values.AsSpan(from, to - from), cuts[index] - from);
            cuts[index] = from + cut;
            found.Add(new ChangePoint(places[cuts[index]], places[from + first], places[from + last],
                Shift(values.AsSpan(from, cuts[index] - from), values.AsSpan(cuts[index], to - cuts[index])).Through(Math.Exp)));
        }

        return found;
    }

    /// <summary>Whether a series rises or falls steadily, rather than by steps.</summary>
    /// <param name="logs">Logarithms of the times, in their order; what is not finite is left out.</param>
    /// <param name="changes">The changes that were found in it.</param>
    /// <returns>From its first to its last time, as a ratio; null where it does not.</returns>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static double? Drift(IReadOnlyList<double> logs, IReadOnlyList<ChangePoint> changes)
    {
        ArgumentNullException.ThrowIfNull(logs);
        ArgumentNullException.ThrowIfNull(changes);
        if (changes.Count == 0)
        {
            return null;
        }

        List<(double X, double Y)> points = [.. Enumerable.Range(0, logs.Count).Where(index => double.IsFinite(logs[index]))
            .Select(index => ((double)index, logs[index]))];
        var slope = TheilSen.Slope(points);
        var middle = SampleStatistics.Median([.. points.Select(point => point.Y - (slope * point.X))]);
        var left = points.Sum(point => Math.Abs(point.Y - middle - (slope * point.X)));
        int[] ends = [.. changes.Select(change => change.Index), logs.Count];
        var (begin, steps) = (0, 0.0);
        foreach (var end in ends)
        {
            steps += Unexplained([.. points.Where(point => point.X >= begin && point.X < end).Select(point => point.Y)]);
            begin = end;
        }

        // Each place and each level costs half the logarithm of the number of values (Schwarz, "Estimating the dimension of a model",
        // 1978).
        var saved = (changes.Count - 0.5) * Math.Log(points.Count) / points.Count;
        return Math.Log(left) < Math.Log(steps) + saved ? Math.Exp(slope * (points[^1].X - points[0].X)) : null;
    }

    private static void Split(double[] values, int from, int to, double probability, Random random, List<int> cuts)
    {
        if (to - from < 2 * LeastSide)
        {
            return;
        }

        var ranks = Ranks(values.AsSpan(from, to - from));
        var (largest, at) = Largest(ranks);
        var length = (double)ranks.Length;
        var isClear = ranks.Length >= LeastForApproximation
            && 2 * Math.Exp(-6 * largest * largest / (length * length * (length + 1))) < probability / TimesBelow;
        var (further, permutations) = (0, isClear ? 0 : (int)(PermutationsBeyond / probability) - 1);
        // Once so many were as large, no more of them can make it rare.
        for (var turn = 0; turn < permutations && further < PermutationsBeyond; turn++)
        {
            random.Shuffle(ranks);
            further += Largest(ranks).Value >= largest ? 1 : 0;
        }

        if (further + 1 > PermutationsBeyond)
        {
            return;
        }

        cuts.Add(from + at);
        Split(values, from, from + at, probability, random, cuts);
        Split(values, from + at, to, probability, random, cuts);
    }

    // The largest of |2 Σ r − t (n + 1)| over t, the sum of the first t ranks against what it would be by chance.
    private static (double Value, int At) Largest(double[] ranks)
    {
        var (sum, largest, at) = (0.0, double.NegativeInfinity, LeastSide);
        for (var t = 1; t <= ranks.Length - LeastSide; t++)
        {
            sum += ranks[t - 1];
            if (t >= LeastSide && Math.Abs((2 * sum) - (t * (ranks.Length + 1.0))) is var value && value > largest)
            {
                (largest, at) = (value, t);
            }
        }

        return (largest, at);
    }

    // Equal values share the mean of their ranks.
    private static double[] Ranks(ReadOnlySpan<double> values)
    {
        double[] sorted = [.. values];
        int[] order = [.. Enumerable.Range(0, values.Length)];
        Array.Sort(sorted, order);
        var ranks = new double[values.Length];
        for (var begin = 0; begin < sorted.Length;)
        {
            var end = begin + 1;
            while (end < sorted.Length && sorted[end] == sorted[begin])
            {
                end++;
            }

            for (var index = begin; index < end; index++)
            {
                ranks[order[index]] = (begin + 1 + end) / 2.0;
            }

            begin = end;
        }

        return ranks;
    }

    // Ranks tell that it changed, but hardly where: the highest time of the lower level may as well be the first of the higher one. It lies
    // where two levels leave the least.
    private static (int Cut, int First, int Last) Places(ReadOnlySpan<double> values, int cut)
    {
        var costs = new double[values.Length];
        Array.Fill(costs, double.PositiveInfinity);
        for (var at = LeastSide; at <= values.Length - LeastSide; at++)
        {
            costs[at] = Unexplained(values[..at]) + Unexplained(values[at..]);
        }

        var least = costs.Min();
        var best = costs[cut] == least ? cut : Array.IndexOf(costs, least);
        // The mean deviation is the likeliest scale.
        var scale = least / values.Length;
        int[] near = [.. Enumerable.Range(0, costs.Length).Where(at => costs[at] - least <= LikelihoodDrop * scale)];
        return (best, near[0], near[^1]);
    }

    private static double Unexplained(ReadOnlySpan<double> values)
    {
        var (median, sum) = (SampleStatistics.Median(values), 0.0);
        foreach (var value in values)
        {
            sum += Math.Abs(value - median);
        }

        return sum;
    }

    private static Interval Shift(ReadOnlySpan<double> before, ReadOnlySpan<double> after)
    {
        const double level = 0.95;
        var differences = new double[before.Length * after.Length];
        for (var i = 0; i < before.Length; i++)
        {
            for (var j = 0; j < after.Length; j++)
            {
                differences[(i * after.Length) + j] = after[j] - before[i];
            }
        }

        Array.Sort(differences);
        // By the normal approximation of the rank sum's distribution.
        var deviation = Math.Sqrt(differences.Length * (before.Length + after.Length + 1.0) / 12);
        var outside = (int)Math.Floor((differences.Length / 2.0) - (1.96 * deviation));
        return outside < 0
            ? new Interval(SampleStatistics.Median(differences), double.NegativeInfinity, double.PositiveInfinity, level)
            : new Interval(SampleStatistics.Median(differences), differences[outside], differences[^(outside + 1)], level);
    }
}
