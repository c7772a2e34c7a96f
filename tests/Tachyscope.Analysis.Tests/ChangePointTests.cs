using Tachyscope.Analysis.Histories;

namespace Tachyscope.Analysis.Tests;

public sealed class ChangePointTests
{
    private const int Series = 400;

    [Theory]
    [InlineData("even")]
    [InlineData("outliers")]
    [InlineData("two heaps")]
    public void A_series_that_stays_as_it_is_has_no_change(string kind)
    {
        var alarms = Enumerable.Range(1, Series).Count(seed => ChangePoints.Find(Make(kind, seed, 40, step: 0, at: 20)).Count > 0);

        // One in a hundred; of 400, twelve or more would come up once in 1,000 times.
        Assert.InRange(alarms, 0, 12);
    }

    [Theory]
    [InlineData("even", 0.98)]
    [InlineData("outliers", 0.95)]
    [InlineData("two heaps", 0.9)]
    public void A_step_is_found_where_it_is_and_as_large_as_it_is(string kind, double most)
    {
        var (found, placed, sized) = (0, 0, 0);
        for (var seed = 1; seed <= Series; seed++)
        {
            var changes = ChangePoints.Find(Make(kind, seed, 40, step: 0.06, at: 25));
            if (changes.Count == 1)
            {
                found++;
                placed += changes[0].FirstIndex <= 25 && 25 <= changes[0].LastIndex ? 1 : 0;
                sized += changes[0].TimeRatio.Lower <= Math.Exp(0.06) && Math.Exp(0.06) <= changes[0].TimeRatio.Upper ? 1 : 0;
            }
        }

        Assert.InRange((double)found / Series, most, 1);
        Assert.InRange((double)placed / found, 0.92, 1);
        Assert.InRange((double)sized / found, 0.85, 1);
    }

    [Fact]
    public void Several_steps_are_told_apart_and_in_order()
    {
        var series = Make("even", 3, 60, step: 0.1, at: 20).Zip(Make("even", 4, 60, step: -0.2, at: 45), (one, other) => one + other);

        var changes = ChangePoints.Find([.. series]);

        Assert.Equal(2, changes.Count);
        Assert.InRange(changes[0].Index, 18, 22);
        Assert.InRange(changes[1].Index, 43, 47);
        Assert.True(changes[0].TimeRatio.Lower > 1 && changes[1].TimeRatio.Upper < 1);
    }

    [Fact]
    public void A_clear_step_is_where_it_is_although_the_time_before_it_is_the_longest_until_then()
    {
        double[] before = [.. Enumerable.Range(0, 14).Select(index => 0.001 * (index % 5))];
        double[] after = [.. Enumerable.Range(0, 9).Select(index => 0.2 + (0.001 * (index % 4)))];

        var change = Assert.Single(ChangePoints.Find([.. before, 0.006, .. after]));

        Assert.Equal((15, 15, 15), (change.Index, change.FirstIndex, change.LastIndex));
    }

    [Fact]
    public void A_steady_drift_is_no_step()
    {
        var (drifting, stepping) = (0, 0);
        for (var seed = 1; seed <= 100; seed++)
        {
            double[] drift = [.. Make("even", seed, 40, step: 0, at: 20).Select((value, index) => value + (0.004 * index))];
            drifting += ChangePoints.Drift(drift, ChangePoints.Find(drift)) is > 1.1 and < 1.25 ? 1 : 0;
            var step = Make("even", seed, 40, step: 0.08, at: 20);
            stepping += ChangePoints.Drift(step, ChangePoints.Find(step)) is null ? 1 : 0;
        }

        Assert.InRange(drifting, 85, 100);
        Assert.InRange(stepping, 95, 100);
    }

    [Fact]
    public void Few_values_or_none_have_no_change()
    {
        Assert.Empty(ChangePoints.Find([]));
        Assert.Empty(ChangePoints.Find([1, 1, 1, 2, 2]));
        Assert.Empty(ChangePoints.Find([.. Enumerable.Repeat(double.NaN, 30)]));
        Assert.Empty(ChangePoints.Find([.. Enumerable.Repeat(1.0, 30)]));
        Assert.Null(ChangePoints.Drift([], []));
    }

    private static double[] Make(string kind, int seed, int count, double step, int at)
    {
        var random = new Random(seed);
        return [.. Enumerable.Range(0, count).Select(index => (index < at ? 0 : step) + (Normal() * 0.01) + kind switch
        {
            "outliers" when random.NextDouble() < 0.1 => 0.3 * random.NextDouble(),
            "two heaps" when random.NextDouble() < 0.3 => 0.04,
            _ => 0,
        })];

        double Normal() => MathNet.Numerics.Distributions.Normal.Sample(random, 0, 1);
    }
}
