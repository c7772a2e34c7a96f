using Tachyscope.Lab.Planning;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

public sealed class PlanningTests
{
    private static readonly HashSet<int> None = [];

    [Fact]
    public void A_sitting_holds_each_variant_once_a_twin_for_each_input_and_the_loops_it_needs()
    {
        var study = ExperimentTests.Study("beacons", 2);
        var mixed = study with { Variants = [.. study.Variants.Select((variant, i) => variant with { Loop = new LoopShape { Path = i == 2
            ? CallPath.Delegate
            : CallPath.Direct } })] };

        var cells = SittingPlan.For(mixed, new() { Seed = 7, Excluded = new HashSet<(int, int, int)> { (1, 1, 0) } }).Cells;

        Assert.Equal(5, cells.Count(cell => cell.Kind == CellKind.Variant));
        Assert.Equal([0, 1], cells.Where(cell => cell.Kind == CellKind.Twin).Select(cell => cell.Input).Order());
        Assert.Equal([CallPath.Direct, CallPath.Delegate], cells.Where(cell => cell.Kind == CellKind.Identity)
            .Select(cell => cell.Loop.Path).Order());
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

        var cells = SittingPlan.For(study, new() { Seed = 7, IsOverlappedRead = true }).Cells;

        Assert.All(cells.Where(cell => cell.Kind != CellKind.Metronome),
            cell => Assert.Equal(cell.Input == 1 ? InputSupply.Each : InputSupply.Same, cell.Loop.Supply));
        Assert.DoesNotContain(cells, cell => cell is { Variant: 1, Input: 1 });
        Assert.Equal([0, 1, 2], cells.Where(cell => cell is { Kind: CellKind.Variant, Input: 0, Loop.Order: CallOrder.Overlapped })
            .Select(cell => cell.Variant).Order());
        Assert.All(
            cells.Where(cell => cell.Kind is CellKind.Variant or CellKind.Twin), cell => Assert.Single(cells,
                loop => loop.Kind == CellKind.Identity && loop.Loop == cell.Loop));
    }

    [Fact]
    public void Pools_calls_that_stay_calls_and_cold_ones_get_the_loops_they_need()
    {
        var study = ExperimentTests.Study("lines", 2) with
        {
            Inputs = [new() { Label = "one" }, new() { Label = "64 × one", Pool = 64 }],
            Variants =
            [
                new() { Name = "a", Variant = "a", IsBaseline = true },
                new() { Name = "b", Variant = "b", Loop = new() { Path = CallPath.Delegate } },
                new() { Name = "c", Variant = "c", Loop = new() { Path = CallPath.Awaited } },
                new() { Name = "d", Variant = "d", Loop = new() { Result = ResultKind.None, Order = CallOrder.Overlapped } },
            ],
        };

        var cells = SittingPlan.For(study, new() { Seed = 7, IsOverlappedRead = true, IsCalledRead = true, EmptiedBytes = [32_768,
            1_048_576] }).Cells;
        List<int> Rows(int input, Func<LoopShape, bool> isMeant)
            => [.. cells.Where(cell => cell.Kind == CellKind.Variant && cell.Input == input && isMeant(cell.Loop)).Select(cell
                => cell.Variant).Order()];

        Assert.Equal([0, 3], Rows(0, loop => loop.IsCalled));
        Assert.Equal([0, 3], Rows(1, loop => loop.IsCalled));
        Assert.Equal([0, 1, 3], Rows(0, loop => loop.EmptiedBytes == 32_768));
        Assert.Equal([0, 1, 3], Rows(0, loop => loop.EmptiedBytes == 1_048_576));
        Assert.Empty(Rows(1, loop => loop.EmptiedBytes is not null));
        Assert.DoesNotContain(cells, cell => cell.Loop is { IsCalled: true, EmptiedBytes: not null } or { IsCalled: true,
            Order: CallOrder.Overlapped, Result: not ResultKind.None });
        Assert.All(cells.Where(cell => cell.Kind != CellKind.Metronome),
            cell => Assert.Equal(cell.Input == 1 ? InputSupply.Each : InputSupply.Same, cell.Loop.Supply));
        Assert.All(
            cells.Where(cell => cell.Kind is CellKind.Variant or CellKind.Twin), cell => Assert.Single(cells,
                loop => loop.Kind == CellKind.Identity && loop.Loop == cell.Loop));
    }

    [Fact]
    public void To_tell_speeds_apart_there_are_more_sittings_unless_time_or_a_precision_decides()
    {
        Assert.Equal(Schedule.DefaultSittings, new Schedule(null, seeksPrecision: false).Sittings);
        Assert.Equal(Schedule.SittingsForSpeeds, new Schedule(null, seeksPrecision: false, seeksSpeeds: true).Sittings);
        Assert.Equal(RunPlan.MostSittings, new Schedule(10, seeksPrecision: false, seeksSpeeds: true).Sittings);
    }

    [Theory]
    [InlineData(6, null, 2, 6)]
    [InlineData(6, 5, 2, 6)]
    [InlineData(6, 7, 2, 8)]
    [InlineData(6, 7, 3, 9)]
    [InlineData(6, 11, 1, 11)]
    [InlineData(6, 900, 3, 12)]
    [InlineData(4, 900, 2, 6)]
    public void What_the_usual_sittings_leave_wide_gets_up_to_as_many_again_in_whole_sets(int held, int? worth, int atOnce, int planned)
    {
        var schedule = new Schedule(null, seeksPrecision: false);

        schedule.Reconsider(held, worth, atOnce, elapsedSeconds: 1);

        Assert.Equal(planned, schedule.Sittings);
        // Looked at once: what comes after decides nothing any more.
        schedule.Reconsider(planned, 6, atOnce, elapsedSeconds: 1);
        Assert.Equal(planned, schedule.Sittings);
    }

    [Theory]
    [InlineData(3, 12)]
    [InlineData(5, 8)]
    [InlineData(7, 6)]
    [InlineData(9, 6)]
    public void More_sittings_come_only_as_far_as_they_will_be_over_in_a_few_seconds(double elapsedSeconds, int planned)
    {
        var schedule = new Schedule(null, seeksPrecision: false, cells: 20);

        schedule.Reconsider(Schedule.DefaultSittings, 12, 2, elapsedSeconds);

        Assert.Equal(planned, schedule.Sittings);
    }

    [Fact]
    public void Nothing_is_reconsidered_where_time_a_precision_or_speeds_decide()
    {
        Schedule[] decided = [new(10, seeksPrecision: false), new(null, seeksPrecision: true),
            new(null, seeksPrecision: false, seeksSpeeds: true)];
        int[] before = [.. decided.Select(schedule => schedule.Sittings)];

        Array.ForEach(decided, schedule => schedule.Reconsider(Schedule.DefaultSittings, 12, 2, elapsedSeconds: 1));

        Assert.Equal(before, decided.Select(schedule => schedule.Sittings));
    }

    [Fact]
    public void The_cells_of_one_input_stay_together_and_the_order_changes_from_round_to_round()
    {
        var plan = SittingPlan.For(ExperimentTests.Study("beacons", 3), new() { Seed = 7, Processors = [0, 1] });
        var rounds = Enumerable.Range(0, 20).Select(round => plan.NextRound(round, None)).ToList();

        Assert.True(rounds.Select(round => string.Join(',', round.Cells)).Distinct().Count() > 15);
        Assert.Equal([0, 1], rounds.Select(round => round.Processor!.Value).Distinct().Order());
        foreach (var round in rounds)
        {
            var blocks = round.Cells.Select(cell => plan.Cells[cell]).Select(cell => cell.Kind == CellKind.Identity ? -1 : cell.Input)
                .ToList();
            var changes = blocks.Zip(blocks.Skip(1)).Count(pair => pair.First != pair.Second);
            Assert.Equal(3, changes);
        }
    }

    [Fact]
    public void A_cell_that_failed_takes_no_further_turn()
    {
        var plan = SittingPlan.For(ExperimentTests.Study("lamps", 1), new() { Seed = 7 });
        var failed = plan.NextRound(0, None).Cells[0];

        Assert.DoesNotContain(failed, plan.NextRound(1, new HashSet<int> { failed }).Cells);
        Assert.Null(plan.NextRound(2, None).Processor);
    }

    [Fact]
    public void Cells_that_are_known_well_enough_rest_in_most_rounds_and_their_reference_stays_as_long_as_one_is_open()
    {
        var wish = new SittingWish { Seed = 7, Decided = [(1, 0), (1, 1), (2, 1)] };
        var plan = SittingPlan.For(ExperimentTests.Study("beacons", 2), wish);
        var rounds = Enumerable.Range(0, 8).Select(round => plan.NextRound(round, None)).ToList();

        int Turns(CellKind kind, int variant, int input)
            => rounds.Sum(round => round.Cells.Count(cell => plan.Cells[cell] is var one
                && (one.Kind, one.Variant, one.Input) == (kind, variant, input)));
        Assert.Equal([8, 2, 8], Enumerable.Range(0, 3).Select(variant => Turns(CellKind.Variant, variant, 0)));
        Assert.Equal([2, 2, 2], Enumerable.Range(0, 3).Select(variant => Turns(CellKind.Variant, variant, 1)));
        Assert.Equal((8, 2), (Turns(CellKind.Twin, 0, 0), Turns(CellKind.Twin, 0, 1)));
        Assert.Equal(8, Turns(CellKind.Identity, 0, 0));
        Assert.Equal(2, rounds[0].Cells.Count(cell => plan.Cells[cell] is { Kind: CellKind.Variant, Variant: 1 }));
        var all = SittingPlan.For(ExperimentTests.Study("lamps", 1), wish with { Decided = [(1, 0), (2, 0)] });
        Assert.Equal(5, all.NextRound(1, None).Cells.Count);
    }

    [Fact]
    public void A_round_calls_one_copy_of_the_code_and_every_copy_comes_once_before_any_comes_again()
    {
        var plan = SittingPlan.For(ExperimentTests.Study("lamps", 1), new() { Seed = 7, Copies = 4 });
        int[] CopiesOf(int from) => [.. Enumerable.Range(from, 4).Select(round => Assert.Single(plan.NextRound(round, None).Cells
            .Where(cell => plan.Cells[cell].Kind != CellKind.Identity).Select(cell => plan.Cells[cell].Copy).Distinct()))];

        Assert.Equal(4 * 4, plan.Cells.Count(cell => cell.Kind is CellKind.Variant or CellKind.Twin));
        Assert.Single(plan.Cells, cell => cell.Kind == CellKind.Identity);
        Assert.Equal([0, 1, 2, 3], CopiesOf(0).Order());
        Assert.Equal([0, 1, 2, 3], CopiesOf(4).Order());
        // A worker that had room for fewer.
        plan.Copies = 2;
        Assert.Equal([0, 0, 1, 1], CopiesOf(8).Order());
    }

    // What comes every fourth round, such as a collection, would else be in all of their rounds or in none.
    [Fact]
    public void Which_rounds_resting_cells_take_part_in_is_left_to_chance()
    {
        var plan = SittingPlan.For(ExperimentTests.Study("beacons", 2), new() { Seed = 7, Decided = [(1, 0), (1, 1), (2, 1)] });

        int[] awake = [.. Enumerable.Range(0, 400)
            .Where(round => plan.NextRound(round, None).Cells.Any(
                cell => plan.Cells[cell] is { Kind: CellKind.Variant, Variant: 1, Input: 0 }))];

        Assert.Equal(100, awake.Length);
        Assert.All(Enumerable.Range(0, 4), place => Assert.InRange(awake.Count(round => round % 4 == place), 10, 45));
        Assert.All(Enumerable.Range(0, 100), stretch => Assert.Single(awake, round => round / 4 == stretch));
    }

    [Fact]
    public void Apart_every_variant_and_the_twin_have_a_worker_with_a_metronome_and_loops_of_its_own()
    {
        var plan = SittingPlan.For(ExperimentTests.Study("beacons", 2), new() { Seed = 7, IsApart = true });

        Assert.Equal(4, plan.Workers);
        Assert.All(Enumerable.Range(0, 4), worker =>
        {
            var own = plan.Cells.Where(cell => cell.Worker == worker).ToList();
            Assert.Equal([CellKind.Identity, CellKind.Metronome], own.Select(cell => cell.Kind)
                .Where(kind => kind is CellKind.Identity or CellKind.Metronome).OrderBy(kind => kind.ToString()));
            Assert.Single(own.Where(cell => cell.Kind is CellKind.Variant or CellKind.Twin).Select(cell => (cell.Kind, cell.Variant))
                .Distinct());
            Assert.Equal((worker, CellKind.Metronome), (plan.Cells[plan.FirstOf(worker)].Worker, plan.Cells[plan.Metronome(worker)].Kind));
        });
    }

    [Fact]
    public void Without_a_time_slow_operations_get_few_rounds_and_short_ones_no_more_than_tell()
    {
        var schedule = new Schedule(null, false);

        Assert.Equal(6, schedule.Sittings);
        Assert.Equal([40, 10, 1], new[] { 0.001, 0.1, 5 }.Select(schedule.MostRounds));
        Assert.Equal([10, 10, 1], new[] { 0.001, 0.1, 5 }.Select(schedule.LeastRounds));
        Assert.Equal(0.052, schedule.ReadingSeconds(new() { Held = 0, ElapsedSeconds = 1, SetSeconds = 0.8 }, 0.001), 9);
    }

    [Theory]
    [InlineData(60, 1.5, 2)]
    [InlineData(20, 1.5, 2)]
    [InlineData(10, 1.5, 1)]
    [InlineData(10, 1.0, 3)]
    [InlineData(5, 0.7, 2)]
    public void Sittings_share_the_time_that_is_left_and_end_with_it(double within, double ready, int atOnce)
    {
        const double Round = 0.02;
        var schedule = new Schedule(within, false);
        var least = schedule.LeastRounds(Round) * Round;
        var (elapsed, held) = (0.3, 0);
        SetCost? cost = null;
        while (schedule.NextSet(held, elapsed, cost, atOnce, false) is var size and > 0)
        {
            elapsed += ready;
            cost = new SetCost(ready, least);
            for (var index = 0; index < size && schedule.HasRoom(held, elapsed, least); index++)
            {
                var outlook = new SittingOutlook { Held = held, Waiting = size - 1 - index, ElapsedSeconds = elapsed, SetSeconds = ready,
                    SetSize = atOnce };
                elapsed += Math.Max(Math.Floor(schedule.ReadingSeconds(outlook, Round) / Round) * Round, least);
                held++;
            }
        }

        Assert.InRange(elapsed, within * 0.95, within * 1.001);
        Assert.InRange(held, 3, 40);
    }

    [Fact]
    public void A_time_too_short_for_one_sitting_gets_one_with_its_least_rounds()
    {
        var schedule = new Schedule(1, false);

        Assert.Equal(2, schedule.NextSet(0, 5, null, 2, false));
        Assert.True(schedule.HasRoom(0, 5, 3));
        Assert.True(schedule.ReadingSeconds(new() { Held = 0, ElapsedSeconds = 2, SetSeconds = 1.5 }, 0.02) < 0);
        Assert.Equal(3, schedule.LeastRounds(0.02));
        Assert.False(schedule.HasRoom(1, 2.1, 0.06));
        Assert.Equal(0, schedule.NextSet(1, 2.1, new(1.5, 0.06), 2, false));
    }

    [Fact]
    public void Sets_go_on_until_enough_were_held_or_the_time_is_over()
    {
        var cost = new SetCost(1, 0.2);

        Assert.Equal(1, new Schedule(null, false).NextSet(5, 8, cost, 2, false));
        Assert.Equal(0, new Schedule(null, false).NextSet(6, 8, cost, 2, false));
        Assert.Equal(0, new Schedule(5, false).NextSet(3, 4.5, cost, 2, false));
        Assert.Equal(1, new Schedule(5, false).NextSet(3, 3.7, cost, 2, false));
        Assert.Equal(0, new Schedule(null, false).NextSet(3, 14.5, cost, 2, false));
        Assert.Equal(2, new Schedule(null, false).NextSet(1, 20, cost, 2, false));
        Assert.Equal(0, new Schedule(null, true).NextSet(6, 8, cost, 2, true));
        Assert.Equal(2, new Schedule(null, true).NextSet(5, 8, cost, 2, true));
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
