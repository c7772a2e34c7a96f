using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Machines;

/// <summary>How steadily a machine ran while its metronome was listened to.</summary>
public sealed record NoiseFindings
{
    private const double SlowedShare = 0.05;
    private const double QuietShare = 0.02;
    private const double UneasyShare = 0.15;

    /// <summary>Readings listened to.</summary>
    public required int Readings { get; init; }

    /// <summary>Median time of one link, in nanoseconds.</summary>
    public required double MedianNanosecondsPerLink { get; init; }

    /// <summary>Distance between the 5th and the 95th percentile, as a share of the median.</summary>
    public required double SpreadShare { get; init; }

    /// <summary>Share of readings more than 5 % slower than the median.</summary>
    public required double SlowShare { get; init; }

    /// <summary>Share of readings during which other work took the processor.</summary>
    public required double InterruptedShare { get; init; }

    /// <summary>The judgement.</summary>
    public required Steadiness Steadiness { get; init; }

    /// <summary>Reads the metronome's readings.</summary>
    /// <param name="beats">The readings.</param>
    public static NoiseFindings Of(IReadOnlyList<Reading> beats)
    {
        ArgumentNullException.ThrowIfNull(beats);
        var signals = new SignalCount();
        foreach (var beat in beats)
        {
            signals.Add(beat);
        }

        return Of([.. beats.Select(beat => beat.NanosecondsPerCall)], signals.Interrupted);
    }

    /// <summary>Reads times of a link and the number of them that were interrupted.</summary>
    internal static NoiseFindings Of(double[] times, int interrupted)
    {
        var median = SampleStatistics.Median(times);
        var slow = times.Length == 0 ? double.NaN : (double)times.Count(time => time > median * (1 + SlowedShare)) / times.Length;
        return new NoiseFindings
        {
            Readings = times.Length,
            MedianNanosecondsPerLink = median,
            SpreadShare = (SampleStatistics.Quantile(times, 0.95) - SampleStatistics.Quantile(times, 0.05)) / median,
            SlowShare = slow,
            InterruptedShare = times.Length == 0 ? double.NaN : (double)interrupted / times.Length,
            Steadiness = slow < QuietShare ? Steadiness.Quiet : slow < UneasyShare ? Steadiness.Uneasy : Steadiness.Noisy,
        };
    }
}
