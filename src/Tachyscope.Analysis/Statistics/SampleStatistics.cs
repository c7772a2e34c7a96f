using MathNet.Numerics.Statistics;

namespace Tachyscope.Analysis.Statistics;

/// <summary>Statistics of a sample of finite numbers; edge cases as <see cref="EdgeRules"/> says.</summary>
public static class SampleStatistics
{
    /// <summary>Median absolute deviations of a normal distribution in its standard deviation.</summary>
    internal const double NormalDeviations = 1.4826;

    /// <summary>Median of a sample: the mean of the two middle values when their number is even.</summary>
    /// <param name="values">The values, in any order.</param>
    public static double Median(ReadOnlySpan<double> values) => ArrayStatistics.MedianInplace(EdgeRules.Usable(values));

    /// <summary>Arithmetic mean of a sample.</summary>
    /// <param name="values">The values.</param>
    public static double Mean(ReadOnlySpan<double> values) => ArrayStatistics.Mean(EdgeRules.Usable(values));

    /// <summary>Standard deviation of a sample, with one less than its number in the denominator.</summary>
    /// <param name="values">The values.</param>
    public static double Deviation(ReadOnlySpan<double> values) => ArrayStatistics.StandardDeviation(EdgeRules.Usable(values));

    /// <summary>
    /// Standard deviation that a normal sample with its median of absolute deviations has (1.4826 times that): values far off hardly count.
    /// </summary>
    /// <param name="values">The values, in any order.</param>
    internal static double NormalDeviation(double[] values)
    {
        var median = Median(values);
        return NormalDeviations * Median(Array.ConvertAll(values, value => Math.Abs(value - median)));
    }

    /// <summary>Quantile of a sample by linear interpolation between order statistics.</summary>
    /// <param name="values">The values, in any order.</param>
    /// <param name="share">Share of values below the quantile, from 0 to 1.</param>
    /// <remarks>Definition 7 of Hyndman and Fan, "Sample quantiles in statistical packages", 1996.</remarks>
    public static double Quantile(ReadOnlySpan<double> values, double share)
        => ArrayStatistics.QuantileCustomInplace(EdgeRules.Usable(values), share, QuantileDefinition.R7);

    /// <summary>Student's t interval for the mean of independent values, trimmed from nine on: <see cref="SampleMean"/>.</summary>
    /// <param name="values">The values, one per sitting.</param>
    /// <param name="level">Share of intervals that hold the true mean, such as 0.95.</param>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="level"/> is not between 0 and 1.</exception>
    public static Interval MeanInterval(ReadOnlySpan<double> values, double level)
        => SampleMean.Of(values).At(level);
}
