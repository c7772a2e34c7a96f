using Tachyscope.Lab.Experiments;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

public sealed class PlanningTests
{
    private static readonly HashSet<int> None = [];

    [Fact]
    public void A_sitting_holds_each_variant_once_a_twin_for_each_input_and_the_loops_it_needs()
    {
        var study = ExperimentTests.Study("beacons", 2);
        var mixed = study with { Variants = [.. study.Variants.Select((variant, i) => variant with { Loop = new LoopShape { Path = i == 2 ? CallPath.Delegate : CallPath.Direct } })] };

        var cells = SittingPlan.For(mixed, new HashSet<(int, int)> { (1, 1) }, 7, []).Cells;

        Assert.Equal(5, cells.Count(cell => cell.Kind == CellKind.Variant));
        Assert.Equal([0, 1], cells.Where(cell => cell.Kind == CellKind.Twin).Select(cell => cell.Input).Order());
        Assert.Equal([CallPath.Direct, CallPath.Delegate], cells.Where(cell => cell.Kind == CellKind.Identity).Select(cell => cell.Loop.Path).Order());
        Assert.Single(cells, cell => cell.Kind == CellKind.Metronome);
    }

    [Fact]
    public void Mixes_parts_threads_and_overlapped_calls_each_get_the_loop_they_need()
    {
        var study = ExperimentTests.Study("lines", 2) with
        {
            Inputs = [new() { Label = "plain", Weight = 1 }, new() { Label = "mix", IsMix = true }],
            Variants =
            [
                new() { Name = "a", Variant = "a", IsBaseline = true },
                new() { Name = "b: prepare", Variant = "b", Part = VariantPart.Prepare },
                new() { Name = "b: use", Variant = "b", Part = VariantPart.Use },
                new() { Name = "c", Variant = "c", Loop = new() { Path = CallPath.Awaited } },
            ],
        };

        var cells = SittingPlan.For(study, new HashSet<(int, int)>(), 7, [], isOverlappedRead: true).Cells;

        Assert.All(cells.Where(cell => cell.Kind != CellKind.Metronome), cell => Assert.Equal(cell.Input == 1 ? InputSupply.Each : InputSupply.Same, cell.Loop.Supply));
        Assert.DoesNotContain(cells, cell => cell is { Variant: 1, Input: 1 });
        Assert.Equal([0, 1, 2], cells.Where(cell => cell is { Kind: CellKind.Variant, Input: 0, Loop.Order: CallOrder.Overlapped }).Select(cell => cell.Variant).Order());
        Assert.All(
            cells.Where(cell => cell.Kind is CellKind.Variant or CellKind.Twin), cell => Assert.Single(cells, loop => loop.Kind == CellKind.Identity && loop.Loop == cell.Loop));
    }

    [Fact]
    public void The_cells_of_one_input_stay_together_and_the_order_changes_from_round_to_round()
    {
        var plan = SittingPlan.For(ExperimentTests.Study("beacons", 3), new HashSet<(int, int)>(), 7, [0, 1]);
        var rounds = Enumerable.Range(0, 20).Select(round => plan.NextRound(round, None)).ToList();

        Assert.True(rounds.Select(round => string.Join(',', round.Cells)).Distinct().Count() > 15);
        Assert.Equal([0, 1], rounds.Select(round => round.Processor!.Value).Distinct().Order());
        foreach (var round in rounds)
        {
            var blocks = round.Cells.Select(cell => plan.Cells[cell]).Select(cell => cell.Kind == CellKind.Identity ? -1 : cell.Input).ToList();
            var changes = blocks.Zip(blocks.Skip(1)).Count(pair => pair.First != pair.Second);
            Assert.Equal(3, changes);
        }
    }

    [Fact]
    public void A_cell_that_failed_takes_no_further_turn()
    {
        var plan = SittingPlan.For(ExperimentTests.Study("lamps", 1), new HashSet<(int, int)>(), 7, []);
        var failed = plan.NextRound(0, None).Cells[0];

        Assert.DoesNotContain(failed, plan.NextRound(1, new HashSet<int> { failed }).Cells);
        Assert.Null(plan.NextRound(2, None).Processor);
    }

    [Theory]
    [InlineData(null, false, 6)]
    [InlineData(1.0, false, 2)]
    [InlineData(9.0, false, 6)]
    [InlineData(60.0, false, 10)]
    [InlineData(null, true, 40)]
    public void More_time_buys_more_sittings_up_to_enough(double? within, bool precision, int sittings)
        => Assert.Equal(sittings, new Schedule(within, precision).Sittings);

    [Fact]
    public void Without_a_time_slow_operations_get_few_rounds_and_short_ones_a_quarter_of_a_second()
    {
        var schedule = new Schedule(null, false);

        Assert.Equal([60, 10, 1], new[] { 0.001, 0.1, 5 }.Select(schedule.MostRounds));
        Assert.Equal([10, 10, 1], new[] { 0.001, 0.1, 5 }.Select(schedule.LeastRounds));
        Assert.Equal(0.12, schedule.ReadingSeconds(1, 0.001, 1, 0.8), 9);
    }

    [Theory]
    [InlineData(60, 1.5)]
    [InlineData(20, 1.5)]
    [InlineData(10, 1.5)]
    [InlineData(5, 0.7)]
    public void Sittings_share_the_time_that_is_left_and_end_with_it(double within, double overhead)
    {
        const double Round = 0.02;
        var schedule = new Schedule(within, false);
        var (elapsed, held) = (0.3, 0);
        while (schedule.GoesOn(held, elapsed, overhead + (schedule.LeastRounds(Round) * Round), false))
        {
            elapsed += overhead;
            elapsed += Math.Max(schedule.ReadingSeconds(held + 1, Round, elapsed, overhead), schedule.LeastRounds(Round) * Round);
            held++;
        }

        Assert.InRange(elapsed, within * 0.95, within * 1.001);
        Assert.InRange(held, 3, 10);
    }

    [Fact]
    public void A_time_too_short_for_one_sitting_gets_one_with_its_least_rounds()
    {
        var schedule = new Schedule(1, false);

        Assert.True(schedule.GoesOn(0, 5, 3, false));
        Assert.True(schedule.ReadingSeconds(1, 0.02, 2, 1.5) < 0);
        Assert.Equal(3, schedule.LeastRounds(0.02));
        Assert.False(schedule.GoesOn(1, 2.1, 1.6, false));
    }

    [Fact]
    public void Sittings_go_on_until_enough_were_held_or_the_time_is_over()
    {
        Assert.True(new Schedule(null, false).GoesOn(5, 8, 1, false));
        Assert.False(new Schedule(null, false).GoesOn(6, 8, 1, false));
        Assert.False(new Schedule(5, false).GoesOn(3, 4.5, 1, false));
        Assert.False(new Schedule(null, false).GoesOn(3, 14.5, 1, false));
        Assert.True(new Schedule(null, false).GoesOn(1, 20, 1, false));
        Assert.False(new Schedule(null, true).GoesOn(6, 8, 1, true));
        Assert.True(new Schedule(null, true).GoesOn(5, 8, 1, true));
    }

    [Theory]
    [InlineData("nearest*", new[] { "nearest beacon" })]
    [InlineData("NEAREST BEACON", new[] { "nearest beacon" })]
    [InlineData("*s*", new[] { "nearest beacon", "lamps" })]
    [InlineData("lamp?", new[] { "lamps" })]
    [InlineData("nearest", new string[0])]
    public void Patterns_choose_studies(string pattern, string[] expected)
    {
        StudyDescription[] studies = [ExperimentTests.Study("nearest beacon", 1), ExperimentTests.Study("lamps", 1)];

        Assert.Equal(expected, StudyFilter.Choose(studies, [pattern]).Select(study => study.Name));
        Assert.Equal(expected.Length == 0 ? [pattern] : [], StudyFilter.Idle(studies, [pattern]));
    }
}
