using FsCheck;
using FsCheck.Fluent;
using Tachyscope.Analysis.Statistics;
using Interval = Tachyscope.Analysis.Statistics.Interval;

namespace Tachyscope.Analysis.Tests;

public sealed class SampleStatisticsTests
{
    [Fact]
    public void Edges_follow_one_table()
    {
        Assert.Equal(double.NaN, SampleStatistics.Median([]));
        Assert.Equal(double.NaN, SampleStatistics.Mean([]));
        Assert.Equal(5, SampleStatistics.Median([5]));
        Assert.Equal(1.5, SampleStatistics.Median([2, 1]));
        Assert.Equal(2, SampleStatistics.Median([3, double.NaN, 1, double.PositiveInfinity, 2]));
        Assert.Equal(3, SampleStatistics.Quantile([1, 5], 0.5));
        Assert.False(SampleStatistics.MeanInterval([], 0.95).IsKnown);
        var one = SampleStatistics.MeanInterval([7], 0.95);
        Assert.Equal((7, false, double.NegativeInfinity), (one.Estimate, one.IsBounded, one.Lower));
        Assert.Equal(new Interval(4, 4, 4, 0.95), SampleStatistics.MeanInterval([4, 4, 4, double.NaN], 0.95));
        Assert.Throws<ArgumentOutOfRangeException>(() => SampleStatistics.MeanInterval([1, 2], 1));
        Assert.Throws<ArgumentOutOfRangeException>(() => SampleStatistics.MeanInterval([1, 2], double.NaN));
    }

    [Fact]
    public void The_middle_half_is_without_a_quarter_and_one_at_either_end()
    {
        Assert.Equal(double.NaN, SampleStatistics.MiddleHalf([]));
        Assert.Equal(1.5, SampleStatistics.MiddleHalf([2, double.NaN, 1]));
        Assert.Equal(3, SampleStatistics.MiddleHalf([3, 1, 100, 2, 4]));
        // Of nine the middle one stands, of twelve the middle four.
        Assert.Equal(5, SampleStatistics.MiddleHalf([1, 2, 3, 4.5, 5, 7, 80, 900, 9_000]));
        Assert.Equal(6.75, SampleStatistics.MiddleHalf([1, 2, 3, 4, 5, 6, 7, 9, 80, 90, 900, 9_000]));
    }

    [Theory]
    [InlineData(3)]
    [InlineData(5)]
    [InlineData(9)]
    [InlineData(12)]
    [InlineData(20)]
    [InlineData(40)]
    public void The_middle_half_of_normal_values_varies_by_what_is_said_and_from_eleven_on_by_less_than_the_median(int count)
    {
        var random = new Random(5);
        var (middles, medians) = (new double[20_000], new double[20_000]);
        for (var draw = 0; draw < middles.Length; draw++)
        {
            double[] values = [.. Enumerable.Range(0, count).Select(_ => MathNet.Numerics.Distributions.Normal.Sample(random, 0, 1))];
            (middles[draw], medians[draw]) = (SampleStatistics.MiddleHalf(values), SampleStatistics.Median(values));
        }

        var errors = SampleStatistics.Deviation(middles) * Math.Sqrt(count);
        Assert.InRange(errors, 0.94 * SampleStatistics.MiddleHalfErrors(count), 1.02 * SampleStatistics.MiddleHalfErrors(count));
        Assert.InRange(Math.Pow(SampleStatistics.Deviation(middles) / SampleStatistics.Deviation(medians), 2),
            count <= 10 ? 1 : 0.75, count <= 10 ? 1 : 0.95);
    }

    [Fact]
    public void The_interval_is_students()
    {
        // n = 5, mean 3, s = 1.5811, t(4, 0.975) = 2.7764: 3 ± 1.9632.
        var interval = SampleStatistics.MeanInterval([1, 2, 3, 4, 5], 0.95);

        Assert.Equal(3, interval.Estimate, 12);
        Assert.Equal(1.9632, interval.HalfWidth, 4);
    }

    [Fact]
    public void From_nine_values_on_the_outermost_are_left_out_and_the_interval_is_tukeys_and_mclaughlins()
    {
        // Of ten, 2 to 9 are kept: mean 5.5; with 2 and 9 twice s = 2.7183, s · √(9 / (8 · 7)) = 1.0897, t(7, 0.975) = 2.3646.
        var interval = SampleStatistics.MeanInterval([100, 1, 2, 3, 4, 5, 6, 7, 8, 9], 0.95);

        Assert.Equal(5.5, interval.Estimate, 12);
        Assert.Equal(2.5768, interval.HalfWidth, 4);
        Assert.Equal([0, 1, 1, 2, 3], new[] { 8, 9, 20, 21, 40 }.Select(SampleMean.Outer));
    }

    [Theory]
    [InlineData(12)]
    [InlineData(28)]
    public void Values_far_off_now_and_then_neither_move_nor_widen_it(int count)
    {
        var random = new Random(11);
        var (held, wider) = (0, 0);
        for (var run = 0; run < 4_000; run++)
        {
            double[] sound = [.. Enumerable.Range(0, count).Select(_ => MathNet.Numerics.Distributions.Normal.Sample(random, 10, 1))];
            double[] values = [.. sound.Select(value => random.NextDouble() < 0.5 / count ? value + 20 : value)];
            var interval = SampleStatistics.MeanInterval(values, 0.95);
            held += interval.Lower <= 10 && interval.Upper >= 10 ? 1 : 0;
            wider += interval.HalfWidth > 2 * SampleStatistics.MeanInterval(sound, 0.95).HalfWidth ? 1 : 0;
        }

        Assert.InRange(held / 4_000.0, 0.93, 0.97);
        // But for as many of them as are not left out.
        Assert.InRange(wider, 0, 4_000 * 0.1);
    }

    [Fact]
    public void An_interval_of_95_percent_holds_the_mean_95_times_in_100()
    {
        var random = new Random(7);
        foreach (var count in (int[])[2, 3, 6, 9, 12, 28])
        {
            var held = 0;
            for (var run = 0; run < 4_000; run++)
            {
                var values = Enumerable.Range(0, count).Select(_ => 10 + MathNet.Numerics.Distributions.Normal.Sample(random, 0, 2))
                    .ToArray();
                var interval = SampleStatistics.MeanInterval(values, 0.95);
                held += interval.Lower <= 10 && interval.Upper >= 10 ? 1 : 0;
            }

            Assert.InRange(held / 4_000.0, 0.94, 0.96);
        }
    }

    [Fact]
    public void Order_does_not_matter_and_a_wider_level_never_narrows()
        => Prop.ForAll<NormalFloat[]>(drawn =>
        {
            double[] values = [.. drawn.Select(value => value.Get).Where(value => Math.Abs(value) < 1e100)];
            double[] reversed = [.. values.Reverse()];
            var narrow = SampleStatistics.MeanInterval(values, 0.9);
            var wide = SampleStatistics.MeanInterval(values, 0.99);
            return SampleStatistics.Median(values).Equals(SampleStatistics.Median(reversed))
                && (values.Length < 2 || (wide.Lower <= narrow.Lower && wide.Upper >= narrow.Upper && narrow.Lower <= narrow.Estimate));
        }).QuickCheckThrowOnFailure();

    [Fact]
    public void A_rising_function_carries_estimate_and_ends()
    {
        var interval = new Interval(0, double.NegativeInfinity, 1, 0.9).Through(Math.Exp);

        Assert.Equal(new Interval(1, 0, Math.E, 0.9), interval);
    }
}
