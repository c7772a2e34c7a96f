using Tachyscope.Analysis.Searches;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Tests;

public sealed class ChangeSearchTests
{
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(60)]
    [InlineData(200)]
    public void Every_step_is_found_in_as_many_looks_as_halving_takes_where_each_tells_clearly(int last)
    {
        for (var changed = 1; changed <= last; changed++)
        {
            var search = new ChangeSearch(last);
            var looks = 0;
            while (search.Next is { } at)
            {
                search.Tell(at, at >= changed ? ChangeEvidence.Certain : -ChangeEvidence.Certain);
                looks++;
            }

            Assert.InRange(looks, 0, Math.Ceiling(Math.Log2(last)));
            Assert.Equal((changed - 1, changed), (search.Low, search.High));
        }
    }

    [Fact]
    public void What_cannot_be_told_is_gone_round_and_named_where_it_hides_the_step()
    {
        var random = new Random(7);
        for (var trial = 0; trial < 500; trial++)
        {
            var last = random.Next(2, 80);
            var changed = random.Next(1, last + 1);
            var broken = Enumerable.Range(1, last - 1).Where(_ => random.Next(3) == 0).ToHashSet();
            var search = new ChangeSearch(last);
            while (search.Next is { } at)
            {
                if (broken.Contains(at))
                {
                    search.Skip(at);
                }
                else
                {
                    search.Tell(at, at >= changed ? ChangeEvidence.Certain : -ChangeEvidence.Certain);
                }
            }

            Assert.InRange(changed, search.Low + 1, search.High);
            Assert.All(search.Between, index => Assert.Contains(index, broken));
        }
    }

    [Fact]
    public void A_long_stretch_that_cannot_be_told_is_left_at_once()
    {
        var search = new ChangeSearch(64);
        var skipped = 0;
        while (search.Next is { } at && at is >= 20 and <= 45)
        {
            search.Skip(at);
            skipped++;
        }

        Assert.Equal(1, skipped);
    }

    [Fact]
    public void What_misled_is_outvoted_and_the_same_code_changes_nothing()
    {
        var search = new ChangeSearch(8);
        search.Tell(4, -2);
        search.Same(4, 6);
        for (var look = 0; look < 3; look++)
        {
            search.Tell(4, 3);
        }

        Assert.Equal((0, 4), (search.Low, search.High));
        search.Tell(2, 20);
        search.Same(1, 2);
        Assert.Equal((0, 1), (search.Low, search.High));
        Assert.Null(search.Next);
    }

    [Fact]
    public void What_lies_outside_is_refused()
    {
        var search = new ChangeSearch(4);

        Assert.Equal((0, 60), (new ChangeSearch(60).Low, new ChangeSearch(60).High));
        Assert.Throws<ArgumentOutOfRangeException>(() => search.Tell(4, 1));
        Assert.Throws<ArgumentOutOfRangeException>(() => search.Skip(0));
        Assert.Throws<ArgumentOutOfRangeException>(() => new ChangeSearch(0));
    }

    // Each look is a few sittings of ends and step, told of as far as they tell.
    [Theory]
    [InlineData(0.05, 0.02, 12)]
    [InlineData(0.05, 0.05, 24)]
    [InlineData(0.05, 0.08, 40)]
    [InlineData(-0.30, 0.10, 12)]
    public void Sixty_commits_are_searched_through_noise_and_the_right_one_found_in_19_of_20(double change, double noise, int sittings)
    {
        const int Hunts = 200;
        const int MostLooks = 60;
        var random = new Random(11);
        var (right, told) = (0, 0);
        for (var hunt = 0; hunt < Hunts; hunt++)
        {
            var changed = random.Next(1, 61);
            var search = new ChangeSearch(60);
            for (var look = 0; look < MostLooks && search.Next is { } at; look++)
            {
                search.Tell(at, Look(random, at >= changed, change, noise, sittings).LogOdds);
            }

            told += search.High - search.Low == 1 ? 1 : 0;
            right += search.High == changed && search.Low == changed - 1 ? 1 : 0;
        }

        Assert.True(right >= 0.95 * Hunts, $"{right} right and {told - right} wrong of {Hunts}");
    }

    [Fact]
    public void Two_steps_are_told_apart_from_one_and_the_larger_is_followed()
    {
        var shared = ChangeEvidence.OfTimes(Known(0.90, 0.005), Known(1.04, 0.005), 6, 1.15, 0.01);
        var single = ChangeEvidence.OfTimes(Known(0.90, 0.005), Known(1.001, 0.005), 6, 1.11, 0.01);

        Assert.True(shared is { IsChanged: true, IsSure: true, IsShared: true });
        Assert.True(single is { IsChanged: true, IsSure: true, IsShared: false });
        Assert.False(ChangeEvidence.OfTimes(Known(0.97, 0.04), Known(1.04, 0.04), 6, 1.07, 0.01).IsSure);
        Assert.Equal(default, ChangeEvidence.OfTimes(Interval.Unknown(0.95), Known(1.04, 0.001), 6, 1.1, 0.01));
        Assert.Equal(default, ChangeEvidence.OfTimes(Known(0.90, 0.005), Known(1.04, 0.005), 5, 1.1, 0.01));
    }

    [Fact]
    public void Bytes_are_exact()
    {
        Assert.Equal(new ChangeEvidence(ChangeEvidence.Certain, IsShared: false), ChangeEvidence.OfBytes(24, 48, 48));
        Assert.Equal(new ChangeEvidence(-ChangeEvidence.Certain, IsShared: false), ChangeEvidence.OfBytes(24, 24, 48));
        Assert.Equal(new ChangeEvidence(-ChangeEvidence.Certain, IsShared: true), ChangeEvidence.OfBytes(24, 32, 48));
        Assert.Equal(default, ChangeEvidence.OfBytes(24, double.NaN, 48));
    }

    private static ChangeEvidence Look(Random random, bool isChanged, double change, double noise, int most)
    {
        var (lows, steps, highs) = (new List<double>(), new List<double>(), new List<double>());
        var found = default(ChangeEvidence);
        for (var sitting = 0; sitting < most && !found.IsSure; sitting++)
        {
            lows.Add(noise * RunSimulator.Normal(random));
            steps.Add((isChanged ? change : 0) + (noise * RunSimulator.Normal(random)));
            highs.Add(change + (noise * RunSimulator.Normal(random)));
            found = lows.Count < 6 ? default
                : ChangeEvidence.OfTimes(Ratio(lows, steps), Ratio(highs, steps), lows.Count, Math.Exp(change), 0.01);
        }

        return found;
    }

    private static Interval Ratio(List<double> over, List<double> under)
        => SampleStatistics.MeanInterval([.. over.Zip(under, (one, other) => one - other)], 0.95).Through(Math.Exp);

    private static Interval Known(double ratio, double reach)
        => new Interval(Math.Log(ratio), Math.Log(ratio) - reach, Math.Log(ratio) + reach, 0.95).Through(Math.Exp);
}
