using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Tests;

public sealed class JudgeTests
{
    [Theory]
    [InlineData(0.90, 0.92, Verdict.Faster)]
    [InlineData(1.05, 1.06, Verdict.Slower)]
    [InlineData(0.995, 1.004, Verdict.Same)]
    [InlineData(0.98, 1.02, Verdict.Unclear)]
    [InlineData(0.985, 0.995, Verdict.Faster)]
    [InlineData(1.0005, 1.02, Verdict.Unclear)]
    [InlineData(0, double.PositiveInfinity, Verdict.Unclear)]
    public void A_verdict_needs_the_whole_interval(double lower, double upper, Verdict expected)
        => Assert.Equal(expected,
            Judge.Decide(new Interval((lower + upper) / 2, lower, upper, 0.95), resolutionShare: 0.001, marginShare: 0.01));

    [Fact]
    public void Nothing_is_claimed_that_twins_differ_by_as_well()
    {
        var ratio = new Interval(0.96, 0.955, 0.965, 0.95);

        Assert.Equal(Verdict.Faster, Judge.Decide(ratio, 0.03, 0.01));
        Assert.Equal(Verdict.Unclear, Judge.Decide(ratio, 0.05, 0.01));
        Assert.Equal(Verdict.Unclear, Judge.Decide(new Interval(1, 0.999, 1.001, 0.95), 0.05, 0.01));
        Assert.Equal(Verdict.Unclear, Judge.Decide(ratio, double.PositiveInfinity, 0.01));
    }

    [Fact]
    public void The_resolution_is_the_twins_outer_end_and_never_below_a_tenth_of_a_percent()
    {
        Assert.Equal(0.02, Judge.ResolutionShare(new Interval(1.01, 0.999, 1.02, 0.95)), 9);
        Assert.Equal((1 / 0.97) - 1, Judge.ResolutionShare(new Interval(0.99, 0.97, 1.01, 0.95)), 9);
        Assert.Equal(0.001, Judge.ResolutionShare(new Interval(1, 0.9999, 1.0001, 0.95)));
        Assert.Equal(double.PositiveInfinity, Judge.ResolutionShare(Interval.Unknown(0.95)));
    }
}
