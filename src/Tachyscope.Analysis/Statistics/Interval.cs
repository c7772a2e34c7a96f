namespace Tachyscope.Analysis.Statistics;

/// <summary>An estimate with the interval that holds the true value at a stated level.</summary>
/// <param name="Estimate">The estimate; NaN when there is none.</param>
/// <param name="Lower">Lower end; negative infinity when nothing limits it.</param>
/// <param name="Upper">Upper end; positive infinity when nothing limits it.</param>
/// <param name="Level">Share of intervals that hold the true value, such as 0.95.</param>
public readonly record struct Interval(double Estimate, double Lower, double Upper, double Level)
{
    /// <summary>Half the distance between the ends.</summary>
    public double HalfWidth => (Upper - Lower) / 2;

    /// <summary>Whether there is an estimate.</summary>
    public bool IsKnown => !double.IsNaN(Estimate);

    /// <summary>Whether both ends are finite.</summary>
    public bool IsBounded => double.IsFinite(Lower) && double.IsFinite(Upper);

    /// <summary>No estimate at all.</summary>
    /// <param name="level">The level asked for.</param>
    public static Interval Unknown(double level) => new(double.NaN, double.NegativeInfinity, double.PositiveInfinity, level);

    /// <summary>The interval with a rising function applied to estimate and ends.</summary>
    /// <param name="rising">The function.</param>
    public Interval Through(Func<double, double> rising)
    {
        ArgumentNullException.ThrowIfNull(rising);
        return this with { Estimate = rising(Estimate), Lower = rising(Lower), Upper = rising(Upper) };
    }
}
