namespace Tachyscope.Analysis.Statistics;

/// <summary>The interval for a ratio of two means, by turning round the test that each ratio is the true one.</summary>
public static class Fieller
{
    /// <summary>Ratio of the means of two paired samples.</summary>
    /// <param name="numerators">Values of the numerator, one per sitting.</param>
    /// <param name="denominators">Values of the denominator of the same sittings.</param>
    /// <param name="level">Share of intervals that hold the true ratio, such as 0.95.</param>
    /// <returns>
    /// All ratios r for which the t interval of mean(numerator − r · denominator) holds 0. Without a limit above where the
    /// denominator may be 0; then the lower end is the least positive ratio that is possible, or 0.
    /// </returns>
    /// <remarks>
    /// Fieller, "Some problems in interval estimation", 1954: the roots of (b² − t² v_bb) r² − 2 (ab − t² v_ab) r + (a² − t² v_aa),
    /// a and b the means, v their variances and covariance, t Student's quantile for n − 1. Percentiles of resampled sittings
    /// hold the truth too rarely with as few as there are: docs/method.md, "Answers".
    /// </remarks>
    /// <exception cref="ArgumentException">The samples are not of the same length.</exception>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="level"/> is not between 0 and 1.</exception>
    public static Interval Ratio(IReadOnlyList<double> numerators, IReadOnlyList<double> denominators, double level)
    {
        ArgumentNullException.ThrowIfNull(numerators);
        ArgumentNullException.ThrowIfNull(denominators);
        EdgeRules.CheckLevel(level);
        if (numerators.Count != denominators.Count)
        {
            throw new ArgumentException($"{denominators.Count} denominators do not pair with {numerators.Count} numerators.",
                nameof(denominators));
        }

        var pairs = numerators.Zip(denominators).Where(pair => double.IsFinite(pair.First) && double.IsFinite(pair.Second)).ToList();
        var (a, b) = (Mean(pairs, pair => pair.First), Mean(pairs, pair => pair.Second));
        if (pairs.Count < 2)
        {
            return Interval.Unknown(level) with { Estimate = a / b };
        }

        var square = Math.Pow(SampleMean.Quantile(pairs.Count - 1, level), 2) / (pairs.Count * (pairs.Count - 1.0));
        double Varied(Func<(double First, double Second), double> product) => square * pairs.Sum(product);
        var c2 = (b * b) - Varied(pair => (pair.Second - b) * (pair.Second - b));
        var c1 = (a * b) - Varied(pair => (pair.First - a) * (pair.Second - b));
        var c0 = (a * a) - Varied(pair => (pair.First - a) * (pair.First - a));
        var inner = (c1 * c1) - (c2 * c0);
        if (c2 > 0)
        {
            var reach = Math.Sqrt(Math.Max(0, inner)) / c2;
            return new Interval(a / b, (c1 / c2) - reach, (c1 / c2) + reach, level);
        }

        // All ratios, or two branches; only when the lower one ends below 0 is the beginning of the upper one a limit.
        var (below, above) = inner > 0 && c2 < 0 ? ((c1 + Math.Sqrt(inner)) / c2, (c1 - Math.Sqrt(inner)) / c2) : (0, 0);
        return new Interval(a / b, below < 0 ? Math.Max(0, above) : 0, double.PositiveInfinity, level);
    }

    private static double Mean(List<(double First, double Second)> pairs, Func<(double First, double Second), double> part)
        => pairs.Count == 0 ? double.NaN : pairs.Average(part);
}
