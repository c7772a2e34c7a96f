using Tachyscope.Analysis.Machines;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

public sealed class NoiseFindingsTests
{
    [Theory]
    [InlineData(0.0, Steadiness.Quiet)]
    [InlineData(0.08, Steadiness.Uneasy)]
    [InlineData(0.4, Steadiness.Noisy)]
    public void Steadiness_goes_by_the_share_of_slowed_readings(double slowShare, Steadiness expected)
    {
        Reading[] beats = [.. Enumerable.Range(0, 1_000)
            .Select(i => new Reading { Calls = 1_000, ElapsedNanoseconds = i < slowShare * 1_000 ? 1_300 : 1_000 })];

        var noise = NoiseFindings.Of(beats);

        Assert.Equal(expected, noise.Steadiness);
        Assert.Equal(slowShare, noise.SlowShare, 3);
        Assert.Equal(1, noise.MedianNanosecondsPerLink);
        Assert.Equal(slowShare > 0.05 ? 0.3 : 0, noise.SpreadShare, 3);
    }

    [Fact]
    public void Nothing_heard_is_nothing_known() => Assert.True(double.IsNaN(NoiseFindings.Of([]).MedianNanosecondsPerLink));
}
