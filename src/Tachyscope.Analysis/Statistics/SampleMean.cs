using System.Collections.Concurrent;
using MathNet.Numerics.Distributions;
using MathNet.Numerics.Statistics;

namespace Tachyscope.Analysis.Statistics;

/// <summary>
/// The mean of independent values with what its intervals and tests at any level follow from; edge cases as <see cref="EdgeRules"/> says.
/// </summary>
/// <remarks>
/// From nine values on it is the trimmed mean: the outermost at either end are left out, one of nine to twenty, two of up to 32, and so on
/// (<see cref="Outer"/>). Now and then a process is compiled or placed unlike all others, and one such value would widen an interval
/// several times. The standard error is that of J. W. Tukey and D. H. McLaughlin, "Less vulnerable confidence and significance procedures
/// for location based on a single sample", 1963: from the deviation of the values with each that was left out replaced by the next that
/// was not; two such means are compared as K. K. Yuen, "The two-sample trimmed t for unequal population variances", 1974, does.
/// </remarks>
/// <param name="Mean">The mean; NaN without values.</param>
/// <param name="StandardError">Its standard error, s / √n where none is left out; NaN for fewer than two values.</param>
/// <param name="Count">Values it is the mean of: those that were not left out.</param>
public readonly record struct SampleMean(double Mean, double StandardError, int Count)
{
    // A pure function's values, kept because a run asks for a few of them thousands of times.
    private static readonly ConcurrentDictionary<(int Freedom, double Level), double> Quantiles = new();

    /// <summary>The mean of a sample.</summary>
    /// <param name="values">The values, one per sitting.</param>
    public static SampleMean Of(ReadOnlySpan<double> values)
    {
        var usable = EdgeRules.Usable(values);
        var (outer, mean) = (Outer(usable.Length), ArrayStatistics.Mean(usable));
        if (outer > 0)
        {
            Array.Sort(usable);
            mean = ArrayStatistics.Mean(usable[outer..^outer]);
            Array.Fill(usable, usable[outer], 0, outer);
            Array.Fill(usable, usable[^(outer + 1)], usable.Length - outer, outer);
        }

        var kept = usable.Length - (2 * outer);
        return new SampleMean(
            mean,
            usable.Length < 2 ? double.NaN
                : ArrayStatistics.StandardDeviation(usable) * Math.Sqrt((usable.Length - 1) / (kept * (kept - 1.0))),
            kept);
    }

    /// <summary>Values at either end of a sample that its mean leaves out.</summary>
    /// <param name="count">Values of the sample.</param>
    internal static int Outer(int count) => (count + 3) / 12;

    /// <summary>Degrees of freedom that the mean of a sample has.</summary>
    /// <param name="count">Values of the sample.</param>
    internal static int Freedom(int count) => count - (2 * Outer(count)) - 1;

    /// <summary>The difference of two means of samples that have nothing to do with each other, whose variances may differ.</summary>
    /// <param name="one">The one.</param>
    /// <param name="other">The other, which is taken from it.</param>
    /// <returns>One whose count is one more than its degrees of freedom; unknown where either has fewer than two values.</returns>
    /// <remarks>
    /// B. L. Welch, "The generalization of 'Student's' problem when several different population variances are involved", 1947, with
    /// degrees of freedom rounded down.
    /// </remarks>
    public static SampleMean Difference(SampleMean one, SampleMean other)
    {
        if (one.Count < 2 || other.Count < 2)
        {
            return new SampleMean(one.Mean - other.Mean, double.NaN, Math.Min(one.Count, other.Count));
        }

        var (variance, otherVariance) = (one.StandardError * one.StandardError, other.StandardError * other.StandardError);
        var sum = variance + otherVariance;
        var freedom = sum == 0 ? one.Count + other.Count - 2
            : sum * sum / ((variance * variance / (one.Count - 1)) + (otherVariance * otherVariance / (other.Count - 1)));
        return new SampleMean(one.Mean - other.Mean, Math.Sqrt(sum), (int)freedom + 1);
    }

    /// <summary>Student's t interval for the mean.</summary>
    /// <param name="level">Share of intervals that hold the true mean, such as 0.95.</param>
    /// <remarks>
    /// mean ± t(n − 1, (1 + level) / 2) · standard error, with n values that were not left out; Student, "The probable error of a mean",
    /// 1908. Sittings are the level of repetition that is independent, as Kalibera and Jones, "Rigorous benchmarking in reasonable time",
    /// 2013, advise.
    /// </remarks>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="level"/> is not between 0 and 1.</exception>
    public Interval At(double level)
    {
        EdgeRules.CheckLevel(level);
        if (Count < 2)
        {
            return Interval.Unknown(level) with { Estimate = Mean };
        }

        var reach = Quantile(Count - 1, level) * StandardError;
        return new Interval(Mean, Mean - reach, Mean + reach, level);
    }

    /// <summary>
    /// Probability of a mean at least so far out when the true one lies within ± a resolution: 2 · (1 − F((|mean| − resolution) /
    /// standard error)) with Student's distribution function F; below α exactly when the interval at level 1 − α lies outside the
    /// resolution.
    /// </summary>
    /// <param name="resolution">The resolution, 0 or more.</param>
    /// <returns>From 0 to 1; NaN for fewer than two values.</returns>
    public double ProbabilityWithin(double resolution)
    {
        if (Count < 2)
        {
            return double.NaN;
        }

        var beyond = Math.Abs(Mean) - resolution;
        return beyond <= 0 ? 1 : StandardError == 0 ? 0 : 2 * StudentT.CDF(0, 1, Count - 1, -beyond / StandardError);
    }

    /// <summary>How far the interval would reach to either side with so many values, if they spread as these do.</summary>
    /// <param name="level">Level of the interval.</param>
    /// <param name="count">Values, two or more.</param>
    public double Reach(double level, int count)
        => Count < 2 ? double.PositiveInfinity
            : Quantile(Freedom(count), level) * StandardError * Math.Sqrt((double)Count / (Freedom(count) + 1));

    /// <summary>Student's t(n, (1 + level) / 2).</summary>
    internal static double Quantile(int freedom, double level)
        => Quantiles.GetOrAdd((freedom, level), asked => StudentT.InvCDF(0, 1, asked.Freedom, (1 + asked.Level) / 2));
}
