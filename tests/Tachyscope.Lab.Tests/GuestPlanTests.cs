using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Planning;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

/// <summary>Where guests sit, how their commands are read, and when they are warm.</summary>
public sealed class GuestPlanTests
{
    [Theory]
    [InlineData("gcc-12 -O2", "gcc-12", "-O2")]
    [InlineData("  cc   -O3\t-DLAMP='a b' ", "cc", "-O3", "-DLAMP=a b")]
    [InlineData("\"/opt/my tools/cc\" \"-D X\" ''", "/opt/my tools/cc", "-D X", "")]
    public void A_command_is_taken_apart_at_its_blanks(string line, string program, params string[] arguments)
    {
        var command = GuestCommand.Parse(line)!;

        Assert.Equal(program, command.Program);
        Assert.Equal(arguments, command.Arguments);
    }

    [Theory]
    [InlineData("")]
    [InlineData("  ")]
    [InlineData("cc \"-O2")]
    public void What_is_no_command_is_none(string line) => Assert.Null(GuestCommand.Parse(line));

    [Fact]
    public void A_guest_has_a_worker_of_its_own_on_the_first_target_and_a_turn_in_every_round()
    {
        var wish = new SittingWish { Seed = 7, Targets = 2, Copies = 3, GuestOf = row => row == 2 ? 0 : null };

        var plan = SittingPlan.For(ExperimentTests.Study("beacons", 2), wish);

        var guests = plan.Cells.Where(cell => cell.Guest is not null).ToList();
        Assert.Equal(3, plan.Workers);
        Assert.All(guests, cell => Assert.Equal((0, guests[0].Worker, 0), (cell.Target, cell.Worker, cell.Copy)));
        Assert.DoesNotContain(plan.Cells, cell => cell.Guest is null && cell.Worker == guests[0].Worker);
        Assert.Equal(
            [CellKind.Variant, CellKind.Variant, CellKind.Identity, CellKind.Metronome], guests.Select(cell => cell.Kind).Order());
        Assert.DoesNotContain(plan.Cells, cell => cell is { Target: 1, Kind: CellKind.Variant, Variant: 2 });
        var own = Enumerable.Range(0, plan.Cells.Count).Where(cell => plan.Cells[cell] is { Guest: not null, Kind: CellKind.Variant });
        for (var round = 0; round < 6; round++)
        {
            Assert.Empty(own.Except(plan.NextRound(round, new HashSet<int>()).Cells));
        }
    }

    [Fact]
    public void A_guest_is_warm_once_its_speed_stands_still_and_not_before()
    {
        var warmth = new GuestWarmth();
        Warm(warmth, 0, 90, 400);
        Assert.False(warmth.AreAllSettled(60, 90));
        Warm(warmth, 90, 180, 100);
        Assert.False(warmth.AreAllSettled(60, 180));
        Warm(warmth, 180, 500, 100);

        Assert.True(warmth.AreAllSettled(60, 500));
        var told = warmth.Of(new WarmUp { Cell = 3, NanosecondsPerCall = 100, CallsPerReading = 500 });
        Assert.True(told.IsSettled);
        Assert.Equal(500, told.SettledMilliseconds);
        Assert.Equal(400, told.Curve[0].NanosecondsPerCall);
        Assert.InRange(told.CallsUntilFast, 1, 400_000);
    }

    [Fact]
    public void A_cell_that_nothing_was_called_of_is_warm_as_it_is()
        => Assert.True(new GuestWarmth().Of(new WarmUp { Cell = 0, NanosecondsPerCall = 1, CallsPerReading = 1 }).IsSettled);

    // A millisecond of calls at a time.
    private static void Warm(GuestWarmth warmth, int from, int to, double nanosecondsPerCall)
        => warmth.Add(new WarmReply
        {
            ElapsedMilliseconds = to,
            Cells = [],
            Slices = [.. Enumerable.Range(from, to - from).Select(millisecond =>
                new WarmSlice(3, millisecond + 1, (long)(1e6 / nanosecondsPerCall), 1e6, 1, null))],
        });
}
