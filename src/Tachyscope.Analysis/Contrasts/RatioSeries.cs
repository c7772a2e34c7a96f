using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>Log of one row's time over another's, one value for each sitting, and whether that is the ratio or a bound of it.</summary>
internal sealed record RatioSeries(double[] Logs, Bound Bound)
{
    private SampleMean? _apart;

    /// <summary>Their mean; where nothing is paired, that of the difference of two means.</summary>
    public SampleMean Mean => _apart ?? SampleMean.Of(Logs);

    /// <summary>The ratio of two series that were measured apart, each sitting by itself.</summary>
    /// <param name="times">The one's times.</param>
    /// <param name="others">The other's times.</param>
    /// <param name="bound">Whether it is the ratio or a bound of it.</param>
    public static RatioSeries Apart(IEnumerable<double> times, IEnumerable<double> others, Bound bound)
        => new([], bound)
        {
            _apart = SampleMean.Difference(SampleMean.Of([.. times.Select(time => Math.Log(time))]),
                SampleMean.Of([.. others.Select(time => Math.Log(time))])),
        };

    /// <summary>The ratio with its interval; a bound has one end.</summary>
    public Interval At(double level) => Mean.At(level).As(Bound).Through(Math.Exp);

    /// <summary>
    /// Probability of so clear a difference by chance when the true one lies within ± a resolution; 1 for a bound that claims none.
    /// </summary>
    /// <param name="logResolution">Log of one more than the resolution's share.</param>
    public double ProbabilityWithin(double logResolution) => Bound switch
    {
        Bound.AtMost when Mean.Mean > 0 => 1,
        Bound.AtLeast when Mean.Mean < 0 => 1,
        _ => Mean.ProbabilityWithin(logResolution),
    };
}
