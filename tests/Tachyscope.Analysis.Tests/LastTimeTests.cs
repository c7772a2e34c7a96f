using MathNet.Numerics.Distributions;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Tests;

/// <summary>A time beside that of an earlier run.</summary>
public sealed class LastTimeTests
{
    [Fact]
    public void The_ratio_holds_the_truth_although_nothing_was_paired()
    {
        var random = new Random(5);
        var held = 0;
        for (var run = 0; run < 2_000; run++)
        {
            // One spreads three times as much as the other.
            var ratio = LastTime.Ratio(Time(100, 0.03, random), Time(80, 0.01, random));
            held += ratio.Lower <= 0.8 && ratio.Upper >= 0.8 ? 1 : 0;
        }

        Assert.InRange(held / 2_000.0, 0.93, 0.985);
    }

    [Fact]
    public void What_was_not_measured_has_none()
    {
        var time = new Interval(100, 90, 110, 0.95);

        Assert.Equal(1, LastTime.Ratio(time, time).Estimate);
        Assert.False(LastTime.Ratio(time, Interval.Unknown(0.95)).IsKnown);
        Assert.False(LastTime.Ratio(time.As(Bound.AtMost), time).IsKnown);
    }

    private static Interval Time(double nanoseconds, double deviation, Random random)
        => SampleMean.Of([.. Enumerable.Range(0, 6).Select(_ => nanoseconds * Math.Exp(Normal.Sample(random, 0, deviation)))]).At(0.95);
}
