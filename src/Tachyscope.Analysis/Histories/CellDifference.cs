using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Histories;

/// <summary>The same cell in two runs.</summary>
/// <param name="LogRatio">Log of the later time over the earlier; NaN where one of them is not measured.</param>
/// <param name="VarianceWithin">The variance that it has by what each run knows of itself.</param>
/// <param name="Freedom">Degrees of freedom of that.</param>
internal readonly record struct CellDifference(double LogRatio, double VarianceWithin, double Freedom)
{
    public static CellDifference Of(CellSummary earlier, CellSummary later, bool areMachinesAlike)
    {
        if (earlier.IsBound || later.IsBound)
        {
            return new CellDifference(double.NaN, double.NaN, double.NaN);
        }

        // Over the metronome, a processor that ran slower that day is no slower code; on other machines a beat is another thing.
        var areBeats = areMachinesAlike && double.IsFinite(earlier.Beats) && double.IsFinite(later.Beats);
        var ratio = areBeats ? later.Beats / earlier.Beats : later.Nanoseconds / earlier.Nanoseconds;
        var (one, other) = (Square(earlier.LogError), Square(later.LogError));
        var freedom = Welch((one, SampleMean.Freedom(earlier.Sittings)), (other, SampleMean.Freedom(later.Sittings)));
        return new CellDifference(Math.Log(ratio), one + other, freedom);
    }

    /// <summary>The interval of the ratio, with what two runs differ by.</summary>
    public Interval At(BetweenRuns between, double level)
    {
        var error = Math.Sqrt(VarianceWithin + between.Variance);
        if (!double.IsFinite(LogRatio) || !double.IsFinite(error))
        {
            return Interval.Unknown(level) with { Estimate = Math.Exp(LogRatio) };
        }

        var reach = SampleMean.Quantile(FreedomWith(between), level) * error;
        return new Interval(Math.Exp(LogRatio), Math.Exp(LogRatio - reach), Math.Exp(LogRatio + reach), level);
    }

    /// <summary>Probability of so large a difference by chance.</summary>
    public double Probability(BetweenRuns between)
    {
        var error = Math.Sqrt(VarianceWithin + between.Variance);
        return !double.IsFinite(LogRatio) || !double.IsFinite(error) ? double.NaN
            : 2 * MathNet.Numerics.Distributions.StudentT.CDF(0, 1, FreedomWith(between), -Math.Abs(LogRatio) / error);
    }

    private int FreedomWith(BetweenRuns between)
        => Math.Max(1, (int)Welch((VarianceWithin, Freedom), (between.Variance, between.Freedom)));

    // Satterthwaite, "An approximate distribution of estimates of variance components", 1946.
    private static double Welch((double Variance, double Freedom) one, (double Variance, double Freedom) other)
        => one.Variance + other.Variance == 0 ? Math.Min(one.Freedom, other.Freedom)
            : Square(one.Variance + other.Variance) / ((Square(one.Variance) / one.Freedom) + (Square(other.Variance) / other.Freedom));

    private static double Square(double value) => value * value;
}
