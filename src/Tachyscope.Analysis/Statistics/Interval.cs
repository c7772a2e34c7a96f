namespace Tachyscope.Analysis.Statistics;

/// <summary>An estimate with the interval that holds the true value at a stated level; or a bound with how far it is known.</summary>
/// <param name="Estimate">The estimate; NaN when there is none.</param>
/// <param name="Lower">Lower end; negative infinity when nothing limits it.</param>
/// <param name="Upper">Upper end; positive infinity when nothing limits it.</param>
/// <param name="Level">Share of intervals that hold the true value, such as 0.95.</param>
public readonly record struct Interval(double Estimate, double Lower, double Upper, double Level)
{
    /// <summary>Whether the estimate is the figure's own, or the figure only lies on one side of it.</summary>
    public Bound Bound { get; init; }

    /// <summary>Half the distance between the ends.</summary>
    public double HalfWidth => (Upper - Lower) / 2;

    /// <summary>Whether there is an estimate.</summary>
    public bool IsKnown => !double.IsNaN(Estimate);

    /// <summary>Whether there is an estimate of the figure itself.</summary>
    public bool IsMeasured => IsKnown && Bound == Bound.None;

    /// <summary>Whether both ends are finite.</summary>
    public bool IsBounded => double.IsFinite(Lower) && double.IsFinite(Upper);

    /// <summary>No estimate at all.</summary>
    /// <param name="level">The level asked for.</param>
    public static Interval Unknown(double level) => new(double.NaN, double.NegativeInfinity, double.PositiveInfinity, level);

    /// <summary>The same estimate as a bound of the figure: what lies beyond it on the other side is open.</summary>
    /// <param name="bound">What it is.</param>
    public Interval As(Bound bound) => bound switch
    {
        Bound.AtMost => this with { Lower = double.NegativeInfinity, Bound = bound },
        Bound.AtLeast => this with { Upper = double.PositiveInfinity, Bound = bound },
        Bound.Open => Unknown(Level) with { Bound = bound },
        _ => this,
    };

    /// <summary>The interval with a rising function applied to estimate and ends.</summary>
    /// <param name="rising">The function.</param>
    public Interval Through(Func<double, double> rising)
    {
        ArgumentNullException.ThrowIfNull(rising);
        return this with { Estimate = rising(Estimate), Lower = rising(Lower), Upper = rising(Upper) };
    }

    /// <summary>A number divided by a figure above 0: what was at most becomes at least.</summary>
    /// <param name="number">The number, above 0.</param>
    public Interval Dividing(double number) => this with
    {
        Estimate = number / Estimate,
        Lower = number / Upper,
        Upper = Lower > 0 ? number / Lower : double.PositiveInfinity,
        Bound = Reversed(Bound),
    };

    private static Bound Reversed(Bound bound) => bound switch
    {
        Bound.AtMost => Bound.AtLeast,
        Bound.AtLeast => Bound.AtMost,
        _ => bound,
    };
}
