using Tachyscope.Analysis.Reasons;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Tests;

public sealed class ProbeJudgeTests
{
    private const int Runs = 2_000;

    [Theory]
    [InlineData(0.25, 0.5, ProbeVerdict.Supported)]
    [InlineData(4, 1, ProbeVerdict.Supported)]
    [InlineData(4, 0.8, ProbeVerdict.Supported)]
    [InlineData(4, 4, ProbeVerdict.NotSupported)]
    [InlineData(4, 5, ProbeVerdict.NotSupported)]
    [InlineData(0.25, 0.24, ProbeVerdict.NotSupported)]
    public void A_difference_that_goes_supports_the_reason_and_one_that_stays_does_not(double plain, double probed, ProbeVerdict verdict)
        => Assert.Equal(verdict, ProbeJudge.Of(Around(plain, 0.01), Around(probed, 0.01)));

    [Fact]
    public void What_is_not_known_well_enough_says_nothing()
    {
        Assert.Equal(ProbeVerdict.Unclear, ProbeJudge.Of(Around(4, 1), Around(2, 1)));
        Assert.Equal(ProbeVerdict.Unclear, ProbeJudge.Of(Interval.Unknown(0.95), Around(2, 0.01)));
        Assert.Equal(ProbeVerdict.Unclear, ProbeJudge
            .Of(Around(2, 0.01), new Interval(2, double.NegativeInfinity, double.PositiveInfinity, 0.95)));
    }

    // With intervals that hold the truth in 95 of 100: a switch that moves nothing is seldom taken for one that does, and the other way
    // round.
    [Theory]
    [InlineData(1.3, 1.3, ProbeVerdict.Supported)]
    [InlineData(4.0, 4.0, ProbeVerdict.Supported)]
    [InlineData(4.0, 2.0, ProbeVerdict.NotSupported)]
    [InlineData(1.3, 1.14, ProbeVerdict.NotSupported)]
    public void The_wrong_verdict_comes_in_at_most_one_of_forty(double plain, double probed, ProbeVerdict wrong)
    {
        const double Deviation = 0.03;
        var random = new Random(7);
        var count = Enumerable.Range(0, Runs).Count(_ => ProbeJudge.Of(Drawn(plain), Drawn(probed)) == wrong);

        Assert.InRange(count, 0, Runs / 40);

        Interval Drawn(double truth)
        {
            var normal = Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
            return Around(truth * Math.Exp(Deviation * normal), 1.96 * Deviation);
        }
    }

    private static Interval Around(double ratio, double reach) => new(ratio, ratio * Math.Exp(-reach), ratio * Math.Exp(reach), 0.95);
}
