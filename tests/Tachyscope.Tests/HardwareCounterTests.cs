using Tachyscope.Working;

namespace Tachyscope.Tests;

/// <summary>Counters of the system, which are there where those of the processor are not; or why there are none.</summary>
public sealed class HardwareCounterTests
{
    [Fact]
    public void Pages_that_are_touched_are_counted_or_it_is_told_why_nothing_is()
    {
        using var counter = HardwareCounter.Begin(CounterKind.PagesProvided, out var absence);
        if (counter is null)
        {
            Assert.Matches("Linux only|does not allow it; sysctl|shows none|has no call|refuses them with error", absence);
            return;
        }

        var before = counter.Read();
        var pages = GC.AllocateUninitializedArray<byte>(64 << 20);
        for (var place = 0; place < pages.Length; place += 4_096)
        {
            pages[place] = 1;
        }

        // A huge page may be one for all; and nothing is told where the counter had to share its place.
        Assert.Null(absence);
        Assert.InRange(counter.Read() - before ?? 1, 1, pages.Length);
    }

    [Fact]
    public void A_processor_that_shows_no_counters_is_told_and_one_that_does_counts_what_is_done()
    {
        using var counter = HardwareCounter.Begin(CounterKind.Instructions, out var absence);
        Assert.Equal(counter is null, absence is not null);
        if (counter?.Read() is not { } before)
        {
            return;
        }

        var sum = 0L;
        for (var step = 0; step < 100_000; step++)
        {
            sum += step ^ sum;
        }

        Assert.True(sum != 1 && counter.Read() - before is null or >= 100_000);
    }
}
