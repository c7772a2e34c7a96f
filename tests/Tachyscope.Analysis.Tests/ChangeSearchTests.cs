using Tachyscope.Analysis.Searches;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Tests;

public sealed class ChangeSearchTests
{
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(60)]
    [InlineData(1000)]
    public void Every_step_is_found_in_as_many_looks_as_halving_takes(int last)
    {
        for (var changed = 1; changed <= last; changed++)
        {
            var search = new ChangeSearch(last);
            var (looks, most) = (0, search.LooksLeft);
            while (search.Next is { } at)
            {
                search.Tell(at, at >= changed);
                Assert.True(++looks <= most);
            }

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
                    search.Tell(at, at >= changed);
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
    public void What_lies_outside_is_refused()
    {
        var search = new ChangeSearch(4);
        search.Tell(2, isChanged: true);

        Assert.Throws<ArgumentOutOfRangeException>(() => search.Tell(2, isChanged: true));
        Assert.Throws<ArgumentOutOfRangeException>(() => search.Skip(0));
        Assert.Throws<ArgumentOutOfRangeException>(() => new ChangeSearch(0));
    }

    // Ends and steps are read with errors, looked at after every sitting, and told as soon as they can be.
    [Theory]
    [InlineData(0.05, 0.02)]
    [InlineData(0.05, 0.10)]
    [InlineData(-0.30, 0.10)]
    public void Sixty_commits_are_searched_through_noise_and_the_right_one_found_in_19_of_20(double change, double noise)
    {
        const int Hunts = 400;
        var random = new Random(11);
        var (right, told) = (0, 0);
        for (var hunt = 0; hunt < Hunts; hunt++)
        {
            var changed = random.Next(1, 61);
            var search = new ChangeSearch(60);
            while (search.Next is { } at)
            {
                var found = Look(random, search, at, changed, change, noise);
                if (found.IsSure)
                {
                    search.Tell(at, found.IsChanged);
                }
                else
                {
                    search.Skip(at);
                }
            }

            told += search.High - search.Low == 1 ? 1 : 0;
            right += search.High == changed && search.Low == changed - 1 ? 1 : 0;
        }

        Assert.True(right >= 0.95 * Hunts, $"{right} right and {told - right} wrong of {Hunts}");
        Assert.True(told - right <= 0.02 * Hunts, $"{told - right} wrong");
    }

    [Fact]
    public void Two_steps_are_told_apart_from_one_and_the_larger_is_followed()
    {
        var shared = ChangeEvidence.OfTimes(Known(0.90, 0.005), Known(1.04, 0.005), 0.01);
        var single = ChangeEvidence.OfTimes(Known(0.90, 0.005), Known(1.001, 0.005), 0.01);

        Assert.Equal(new ChangeEvidence(IsChanged: true, IsSure: true, IsShared: true), shared);
        Assert.Equal(new ChangeEvidence(IsChanged: true, IsSure: true, IsShared: false), single);
        Assert.False(ChangeEvidence.OfTimes(Known(0.95, 0.03), Known(1.04, 0.03), 0.01).IsSure);
        Assert.False(ChangeEvidence.OfTimes(Interval.Unknown(0.95), Known(1.04, 0.001), 0.01).IsSure);
    }

    [Fact]
    public void Bytes_are_exact()
    {
        Assert.Equal(new ChangeEvidence(IsChanged: true, IsSure: true, IsShared: false), ChangeEvidence.OfBytes(24, 48, 48));
        Assert.Equal(new ChangeEvidence(IsChanged: false, IsSure: true, IsShared: false), ChangeEvidence.OfBytes(24, 24, 48));
        Assert.Equal(new ChangeEvidence(IsChanged: false, IsSure: true, IsShared: true), ChangeEvidence.OfBytes(24, 32, 48));
        Assert.False(ChangeEvidence.OfBytes(24, double.NaN, 48).IsSure);
    }

    private static ChangeEvidence Look(Random random, ChangeSearch search, int at, int changed, double change, double noise)
    {
        var (lows, steps, highs) = (new List<double>(), new List<double>(), new List<double>());
        var found = default(ChangeEvidence);
        for (var sitting = 0; sitting < 1_000 && !found.IsSure; sitting++)
        {
            lows.Add(Level(search.Low));
            steps.Add(Level(at));
            highs.Add(Level(search.High));
            found = lows.Count < 3 ? default : ChangeEvidence.OfTimes(Ratio(lows, steps), Ratio(highs, steps), 0.01);
        }

        return found;

        double Level(int index) => (index >= changed ? change : 0) + (noise * RunSimulator.Normal(random));
    }

    private static Interval Ratio(List<double> over, List<double> under)
        => SampleStatistics.MeanInterval([.. over.Zip(under, (one, other) => one - other)], 0.95).Through(Math.Exp);

    private static Interval Known(double ratio, double reach)
        => new Interval(Math.Log(ratio), Math.Log(ratio) - reach, Math.Log(ratio) + reach, 0.95).Through(Math.Exp);
}
