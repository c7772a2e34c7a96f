using Tachyscope.Measuring;

namespace Tachyscope.Tests;

public sealed class WarmUpWatchTests
{
    [Fact]
    public void A_constant_speed_is_steady_once_two_windows_are_full()
    {
        Assert.False(Watched(_ => 100, milliseconds: 45).IsSteady());
        Assert.True(Watched(_ => 100, milliseconds: 250).IsSteady());
    }

    [Fact]
    public void A_step_in_speed_or_in_bytes_is_not_steady_until_it_is_past()
    {
        Assert.False(Watched(at => at < 150 ? 120 : 100, milliseconds: 220).IsSteady());
        Assert.True(Watched(at => at < 150 ? 120 : 100, milliseconds: 400).IsSteady());
        Assert.False(Watched(_ => 100, milliseconds: 220, bytes: at => at < 150 ? 88 : 24).IsSteady());
    }

    [Fact]
    public void A_noisy_cell_may_differ_by_its_own_scatter()
    {
        var random = new Random(5);

        Assert.True(Watched(_ => 100 * (1 + (0.2 * random.NextDouble())), milliseconds: 400).IsSteady());
    }

    [Fact]
    public void A_change_of_the_machines_speed_is_no_change_of_the_operation()
    {
        var watch = new WarmUpWatch();
        for (var at = 0; at < 250; at++)
        {
            var beat = at < 210 ? 1.0 : 1.3;
            watch.Add(at, 10, 10 * 100 * beat, beat, 0);
        }

        Assert.True(watch.IsSteady());
    }

    [Fact]
    public void Of_long_calls_a_few_have_to_do_though_others_are_called_between_them()
    {
        var watch = new WarmUpWatch();
        for (var call = 0; call < 6; call++)
        {
            Assert.False(watch.IsSteady());
            watch.Add(endMilliseconds: 200 * (call + 1), calls: 1, nanoseconds: 50_000_000, metronomeNanoseconds: 1, allocatedBytes: 0);
        }

        Assert.True(watch.IsSteady());
    }

    [Fact]
    public void Old_slices_make_room()
    {
        var watch = Watched(at => at < 3_000 ? 500 : 100, milliseconds: 10_000);

        Assert.True(watch.IsSteady());
        Assert.Equal(100_000, watch.Calls);
        Assert.Equal(100, watch.NanosecondsPerCall);
    }

    [Theory]
    [InlineData(1, 20_000)]
    [InlineData(1_000, 20)]
    [InlineData(10_000, 6)]
    [InlineData(50_000, 1)]
    [InlineData(100_000, 0)]
    [InlineData(5_000_000, 0)]
    public void As_many_calls_are_thrown_away_as_short_operations_need(double nanosecondsPerCall, long calls)
        => Assert.Equal(calls, Turn.ThrownAway(nanosecondsPerCall));

    [Fact]
    public void The_way_to_rest_is_kept_where_calls_double_and_tells_when_the_end_was_reached()
    {
        var curve = new WarmUpCurve();
        for (var call = 1; call <= 5_000; call++)
        {
            curve.Note(call, calls: 1, call <= 300 ? 1_000_000 : 10_000, allocatedBytes: 24, compiledMethods: 0);
        }

        Assert.Equal([1, 2, 4, 8, 16, 32, 64, 128, 256, 512, 1_024, 2_048, 4_096], curve.Points().Select(point => point.Calls));
        Assert.Equal((256, 256), curve.UntilFast());
        Assert.Equal(24, curve.Points()[5].AllocatedBytesPerCall);
    }

    private static WarmUpWatch Watched(Func<int, double> nanosecondsPerCall, int milliseconds, Func<int, long>? bytes = null)
    {
        var watch = new WarmUpWatch();
        for (var at = 0; at < milliseconds; at++)
        {
            watch.Add(at, 10, 10 * nanosecondsPerCall(at), 1, 10 * (bytes?.Invoke(at) ?? 0));
        }

        return watch;
    }
}
