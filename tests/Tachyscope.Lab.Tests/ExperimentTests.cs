using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Planning;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Tests;

public sealed class ExperimentTests
{
    private static readonly StudyDescription Beacons = Study("beacons", 2);
    private static readonly StudyDescription Lamps = Study("lamps", 1);

    private static PreparedTarget Named(string name) => new(new Target { Name = name }, null, []);

    [Fact]
    public async Task Targets_are_measured_in_the_same_rounds_each_in_a_worker_of_its_own()
    {
        var workers = new ScriptedWorkers(Study("lamps", 2)) { Slowness = target => 1 + target, Lacking = target => target == 1
            ? "v1"
            : null };
        var around = new ExperimentSurroundings { Machine = new() { Processor = "Lamp", ProcessorCount = 2, OperatingSystem = "Harbour" },
            Tool = "test" };

        var run = (await new Experiment(workers, new RunPlan(),
            around) { Targets = [Named("net8.0"), Named("net10.0")] }.RunAsync(CancellationToken.None)).Run!;

        Assert.Equal(["net8.0", "net10.0"], run.Targets.Select(target => target.Name));
        var sitting = run.Studies[0].Sittings[0];
        Assert.Equal([0, 1], sitting.Cells.Select(cell => cell.Target).Distinct().Order());
        Assert.All(sitting.Cells.GroupBy(cell => cell.Worker), worker => Assert.Single(worker.Select(cell => cell.Target).Distinct()));
        // Every round goes through both, each turn after a beat of its own worker's metronome.
        Assert.All(sitting.Readings.GroupBy(reading => reading.Round),
            round => Assert.Equal(2, round.Select(reading => sitting.Cells[reading.Cell].Target).Distinct().Count()));
        double Time(int target) => sitting.Readings.Where(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 0,
            Input: 0 } cell && cell.Target == target).Average(reading => reading.NanosecondsPerCall);
        Assert.Equal(2, Time(1) / Time(0), 6);
        Assert.Equal([(1, 0, 1), (1, 1, 1)], run.Studies[0].Failures.Select(failure => (failure.Variant, failure.Input, failure.Target)));
        Assert.All(run.Studies[0].Failures,
            failure => Assert.Equal((CellFailureKind.Missing, "net10.0 has no such variant"), (failure.Kind, failure.Reason)));
        Assert.DoesNotContain(sitting.Cells, cell => cell is { Kind: CellKind.Variant, Variant: 1, Target: 1 });
        Assert.Equal(workers.Started, workers.Disposed);
    }

    [Fact]
    public async Task A_study_whose_contrasts_are_wide_gets_more_sittings_which_are_told_as_they_come()
    {
        List<RunProgress> told = [];

        var run = (await RunAsync(new ScriptedWorkers(Lamps), worth: 100, progress: new Watcher(told.Add))).Run!;

        Assert.Equal(Schedule.MostWhereWide, run.Studies[0].Sittings.Count);
        Assert.Equal(Schedule.DefaultSittings, told.First(step => step.Stage == RunStage.Reading).SittingsPlanned);
        var last = told.Last(step => step.Stage == RunStage.Reading);
        Assert.Equal((Schedule.MostWhereWide, Schedule.MostWhereWide), (last.Sitting, last.SittingsPlanned));
    }

    [Fact]
    public async Task Every_study_gets_its_sittings_in_fresh_workers_and_all_cells_take_part_in_every_round()
    {
        var workers = new ScriptedWorkers(Beacons, Lamps);

        var run = (await RunAsync(workers)).Run!;

        Assert.Equal(RunState.Complete, run.State);
        Assert.Equal(["beacons", "lamps"], run.Studies.Select(study => study.Study.Name));
        Assert.All(run.Studies, study => Assert.Equal(Schedule.DefaultSittings, study.Sittings.Count));
        // One to meet and check the answers of the first study, one to check those of the second, one for each sitting.
        Assert.Equal(2 + (2 * Schedule.DefaultSittings), workers.Started);
        Assert.Equal(workers.Started, workers.Disposed);
        foreach (var sitting in run.Studies.SelectMany(study => study.Sittings))
        {
            var turns = sitting.Readings.Where(reading => sitting.Cells[reading.Cell].Kind != CellKind.Metronome)
                .GroupBy(reading => reading.Round).ToList();
            Assert.Equal(sitting.Rounds, turns.Count);
            Assert.All(turns, round => Assert.Equal(
                sitting.Cells.Count(cell => cell.Copy == 0) - 1, round.Select(reading => reading.Cell).Distinct().Count()));
        }
    }

    [Fact]
    public async Task As_many_copies_of_the_code_are_read_as_the_worker_could_make_and_why_there_are_no_more_is_kept()
    {
        var few = (await RunAsync(new ScriptedWorkers(Lamps), new RunPlan { Copies = 4 })).Run!.Studies[0].Sittings;
        var some = (await RunAsync(new ScriptedWorkers(Lamps) { Copies = 3 }, new RunPlan { Copies = 4 })).Run!.Studies[0].Sittings;
        var one = (await RunAsync(new ScriptedWorkers(Lamps) { Copies = 3 })).Run!.Studies[0].Sittings;

        Assert.All(few, sitting => Assert.Equal((1, "it is scripted"), (sitting.Copies, sitting.CopiesProblem)));
        Assert.All(some, sitting => Assert.Equal(3, sitting.Copies));
        Assert.Equal([0, 1, 2], some[0].Readings.Select(reading => some[0].Cells[reading.Cell].Copy).Distinct().Order());
        Assert.All(one, sitting => Assert.Equal((1, null, 0),
            (sitting.Copies, sitting.CopiesProblem, sitting.Cells.Max(cell => cell.Copy))));
    }

    [Fact]
    public async Task What_throws_in_a_copy_alone_costs_the_copy_and_not_the_cell()
    {
        var run = (await RunAsync(new ScriptedWorkers(Lamps) { Copies = 4, ThrowsInCopy = 2 }, new RunPlan { Copies = 4 })).Run!.Studies[0];

        Assert.Empty(run.Failures);
        Assert.Equal(Schedule.DefaultSittings, run.Sittings.Count);
        Assert.All(run.Sittings, sitting => Assert.Equal("in a copy of its code it threw", sitting.CopiesProblem));
    }

    [Theory]
    [InlineData(WorkerPlace.Copy)]
    [InlineData(WorkerPlace.Cell)]
    public async Task A_worker_that_is_lost_with_a_copy_is_replaced_by_one_without(WorkerPlace where)
    {
        var workers = new ScriptedWorkers(Lamps)
        {
            Copies = 4,
            LostAt = where,
            Trouble = cell => cell.Copy == 1 ? new WorkerException(WorkerTrouble.Died, "fell over its own copy") : null,
        };

        var run = (await RunAsync(workers, new RunPlan { Copies = 4 })).Run!.Studies[0];

        Assert.Empty(run.Failures);
        Assert.Equal(Schedule.DefaultSittings, run.Sittings.Count);
        Assert.All(run.Sittings, sitting => Assert.Equal(
            (1, "in a copy of its code the worker fell over its own copy"), (sitting.Copies, sitting.CopiesProblem)));
    }

    [Fact]
    public async Task A_quiet_core_is_sought_once_a_worker_told_what_it_reads_and_not_where_that_is_not_wanted()
    {
        var workers = new ScriptedWorkers(Lamps) { LowGauge = 1_250 };
        var sittings = (await RunAsync(workers)).Run!.Studies[0].Sittings;
        var asked = new ScriptedWorkers(Lamps) { LowGauge = 1_250 };
        await RunAsync(asked, new RunPlan { IsQuietSought = false });

        Assert.All(sittings, sitting => Assert.Equal([1_250], sitting.LowGauges));
        Assert.All(workers.QuietGauges, most => Assert.Equal(1_437, most));
        Assert.All(asked.QuietGauges, most => Assert.Equal(0, most));
    }

    [Fact]
    public async Task The_same_seed_plans_the_same_sittings()
    {
        var first = (await RunAsync(new ScriptedWorkers(Beacons), new RunPlan { Seed = 5 })).Run!;
        var again = (await RunAsync(new ScriptedWorkers(Beacons), new RunPlan { Seed = 5 })).Run!;
        var other = (await RunAsync(new ScriptedWorkers(Beacons), new RunPlan { Seed = 6 })).Run!;

        Assert.Equal(Orders(first), Orders(again));
        Assert.NotEqual(Orders(first), Orders(other));
    }

    [Fact]
    public async Task All_reasons_not_to_begin_come_together()
    {
        var mistaken = Beacons with { Mistakes = ["study \"beacons\": it has no baseline."] };
        var workers = new ScriptedWorkers(mistaken, Lamps)
        {
            FactoryMistakes = ["the factory threw"],
            Environment = new() { Runtime = "x", Architecture = "x64", UnoptimizedAssemblies = ["Harbour"], IsDebuggerAttached = true,
                IsProfilerAttached = true },
        };

        var outcome = await RunAsync(workers, new RunPlan { Only = ["beac*", "nothing"] });

        Assert.Null(outcome.Run);
        Assert.False(outcome.CouldNotRun);
        string[] expected =
        [
            "no study matches --only \"nothing\"; the studies are \"beacons\", \"lamps\".", "Harbour was built without optimisation",
                "a debugger is attached", "a profiler is attached",
            "no baseline", "the factory threw",
        ];
        Assert.All(expected, text => Assert.Contains(outcome.Refusals, refusal => refusal.Contains(text, StringComparison.Ordinal)));
        Assert.Equal(expected.Length, outcome.Refusals.Count);
    }

    [Fact]
    public async Task Who_insists_gets_a_debug_build_measured()
    {
        var workers = new ScriptedWorkers(Lamps) { Environment = new() { Runtime = "x", Architecture = "x64", IsDebuggerAttached = true } };

        Assert.NotNull((await RunAsync(workers, new RunPlan { IsInsisted = true })).Run);
    }

    [Fact]
    public async Task A_worker_of_another_protocol_is_refused()
    {
        var outcome = await RunAsync(new ScriptedWorkers(Lamps) { Protocol = 99 });

        Assert.Contains("version 99 of the protocol", Assert.Single(outcome.Refusals), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_variant_that_disagrees_takes_no_sitting_and_the_others_do()
    {
        var workers = new ScriptedWorkers(Lamps)
        {
            Check = request => request.Variant == 1
                ? new CheckReply { Failure = CellFailureKind.Disagrees, Reason = "answers 4" }
                : new CheckReply(),
        };

        var study = (await RunAsync(workers)).Run!.Studies[0];

        Assert.Equal((1, CellFailureKind.Disagrees), (Assert.Single(study.Failures).Variant, study.Failures[0].Kind));
        Assert.All(study.Sittings, sitting => Assert.DoesNotContain(sitting.Cells, cell => cell is { Kind: CellKind.Variant, Variant: 1 }));
    }

    [Fact]
    public async Task What_fails_on_one_kind_is_not_timed_on_the_mix_and_what_is_prepared_is_nobodys_reference()
    {
        var lines = Lamps with
        {
            Inputs = [new() { Label = "plain", Weight = 9 }, new() { Label = "damaged", Weight = 1 },
                new() { Label = "mix", IsMix = true }],
            Variants = [new() { Name = "a: prepare", Variant = "a", IsBaseline = true, Part = VariantPart.Prepare },
                new() { Name = "a: use", Variant = "a", IsBaseline = true, Part = VariantPart.Use }, Lamps.Variants[1]],
        };
        var checks = new List<CheckRequest>();
        var workers = new ScriptedWorkers(lines)
        {
            Check = request =>
            {
                checks.Add(request);
                return request is { Variant: 2, Input: 1 }
                    ? new CheckReply { Failure = CellFailureKind.Disagrees, Reason = "answers 4" }
                    : new CheckReply();
            },
        };

        var study = (await RunAsync(workers)).Run!.Studies[0];

        Assert.Equal([(1, 0), (1, 1)], checks.Where(check => check.Reference == 1 && check.Variant == 1)
            .Select(check => (check.Variant, check.Input)));
        Assert.Equal([(2, 1, "answers 4"), (2, 2, "answers 4, on damaged")],
            study.Failures.Select(failure => (failure.Variant, failure.Input, failure.Reason)));
        Assert.DoesNotContain(checks, check => check.Input == 2);
    }

    [Fact]
    public async Task Cells_are_looked_at_in_workers_of_their_own_as_far_as_asked_and_a_lost_one_costs_nothing()
    {
        var asked = new List<DiagnoseRequest>();
        var study = Lamps with { Variants = [Lamps.Variants[0], new() { Name = "b: prepare", Variant = "b", Part = VariantPart.Prepare }] };
        var workers = new ScriptedWorkers(study)
        {
            Diagnose = request =>
            {
                asked.Add(request);
                return request is { Kind: DiagnosisKind.Types } ? throw new WorkerException(WorkerTrouble.Died, "fell")
                    : request.Kind == DiagnosisKind.FirstCall ? new DiagnoseReply { FirstCallNanoseconds = 77 }
                    : new DiagnoseReply { RetainedBytes = 5 };
            },
        };

        var plain = (await RunAsync(workers)).Run!.Studies[0];
        var full = (await RunAsync(workers, new RunPlan { Diagnoses = [DiagnosisKind.FirstCall, DiagnosisKind.Types] })).Run!.Studies[0];

        Assert.Equal((1, 5.0), (Assert.Single(plain.Diagnoses).Variant, plain.Diagnoses[0].RetainedBytes));
        Assert.All(full.Diagnoses, diagnosis => Assert.Equal([77, 77, 77, 77, 77], diagnosis.FirstCallNanoseconds));
        Assert.Equal(2, full.Diagnoses.Count);
        Assert.Equal(Schedule.DefaultSittings, full.Sittings.Count);
        Assert.Equal(workers.Started, workers.Disposed);
        Assert.Equal(2, asked.Count(request => request.Kind == DiagnosisKind.Types));
    }

    [Fact]
    public async Task What_a_call_gets_done_comes_with_the_inputs()
    {
        var workers = new ScriptedWorkers(Beacons) { Work = [new() { Items = 3 }, new() { Bytes = 4 }] };

        Assert.Equal([3, null], (await RunAsync(workers)).Run!.Studies[0].Study.Inputs.Select(input => input.Work!.Items));
    }

    [Fact]
    public async Task When_the_baseline_fails_the_next_answer_is_what_others_must_agree_with()
    {
        var references = new List<(int Variant, int Reference)>();
        var workers = new ScriptedWorkers(Lamps)
        {
            Check = request =>
            {
                references.Add((request.Variant, request.Reference));
                return request.Variant == 0 ? new CheckReply { Failure = CellFailureKind.Threw, Reason = "dark" } : new CheckReply();
            },
        };

        await RunAsync(workers);

        Assert.Equal([(0, 0), (1, 1), (2, 1)], references);
    }

    [Theory]
    [InlineData(WorkerTrouble.Died, CellFailureKind.Died)]
    [InlineData(WorkerTrouble.Hung, CellFailureKind.Hung)]
    public async Task A_worker_lost_in_a_sitting_costs_the_cell_that_was_at_work_and_nothing_else(WorkerTrouble trouble,
        CellFailureKind kind)
    {
        var workers = new ScriptedWorkers(Lamps)
        {
            Trouble = cell => cell is { Kind: CellKind.Variant, Variant: 2 }
                ? new WorkerException(trouble, "the tower fell", ["last words"])
                : null,
        };

        var study = (await RunAsync(workers)).Run!.Studies[0];

        var failure = Assert.Single(study.Failures);
        Assert.Equal((2, kind, "the tower fell"), (failure.Variant, failure.Kind, failure.Reason));
        Assert.Equal(["last words"], failure.LastLines);
        Assert.Equal(Schedule.DefaultSittings, study.Sittings.Count);
        Assert.Equal(workers.Started, workers.Disposed);
    }

    [Fact]
    public async Task A_worker_lost_while_no_operation_was_called_fails_the_study_and_the_next_one_goes_on()
    {
        var workers = new ScriptedWorkers(Lamps, Beacons)
        {
            Trouble = cell => cell.Kind == CellKind.Metronome ? new WorkerException(WorkerTrouble.Died, "ended") : null,
        };

        var run = (await RunAsync(workers)).Run!;

        Assert.All(run.Studies, study => Assert.Equal(study.Study.Variants.Count * study.Study.Inputs.Count, study.Failures.Count));
        Assert.All(run.Studies, study => Assert.Empty(study.Sittings));
    }

    [Fact]
    public async Task A_baseline_whose_twin_fails_too_fails_once_and_the_others_go_on()
    {
        var workers = new ScriptedWorkers(Lamps)
        {
            Trouble = cell => cell.Kind is CellKind.Variant or CellKind.Twin && cell.Variant == 0
                ? new WorkerException(WorkerTrouble.Died, "fell")
                : null,
        };

        var study = (await RunAsync(workers)).Run!.Studies[0];

        Assert.Equal(0, Assert.Single(study.Failures).Variant);
        Assert.Equal(Schedule.DefaultSittings, study.Sittings.Count);
    }

    [Fact]
    public async Task A_study_that_cannot_be_set_up_is_told_as_such()
    {
        var workers = new ScriptedWorkers(Lamps) { Trouble = _ => new WorkerException(WorkerTrouble.Refused,
            "InvalidOperationException: out of oil") };

        var study = (await RunAsync(workers)).Run!.Studies[0];

        Assert.All(study.Failures,
            failure => Assert.Equal((CellFailureKind.Threw, "could not be set up: InvalidOperationException: out of oil"),
                (failure.Kind, failure.Reason)));
        Assert.Equal(3, study.Failures.Count);
    }

    [Fact]
    public async Task When_no_worker_is_to_be_had_any_more_what_was_measured_is_kept()
    {
        var hellos = 0;
        var workers = new ScriptedWorkers(Lamps, Beacons)
        {
            // Met, answers checked, six sittings: then the second study finds nobody.
            Asked = method =>
            {
                if (method == WorkerMethods.Hello && Interlocked.Increment(ref hellos) > 8)
                {
                    throw new WorkerException(WorkerTrouble.Died, "ended at once");
                }
            },
        };

        var run = (await RunAsync(workers)).Run!;

        Assert.Equal((6, 0), (run.Studies[0].Sittings.Count, run.Studies[1].Sittings.Count));
        Assert.Empty(run.Studies[0].Failures);
        Assert.Equal(6, run.Studies[1].Failures.Count);
        Assert.Equal(workers.Started, workers.Disposed);
    }

    [Fact]
    public async Task A_worker_that_cannot_be_met_is_told_as_such()
    {
        var workers = new ScriptedWorkers(Lamps) { Asked = method => throw new WorkerException(WorkerTrouble.Died,
            "ended its process with exit code 134", ["missing lamp"]) };

        var outcome = await RunAsync(workers);

        Assert.True(outcome.CouldNotRun);
        Assert.Contains("exit code 134", outcome.Refusals[0], StringComparison.Ordinal);
        Assert.Contains("missing lamp", outcome.Refusals[1], StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_interruption_keeps_what_was_measured()
    {
        using var stop = new CancellationTokenSource();
        var reads = 0;
        var saved = new List<Run>();
        var workers = new ScriptedWorkers(Lamps)
        {
            Asked = method =>
            {
                if (method == WorkerMethods.Bye && ++reads == 3)
                {
                    stop.Cancel();
                }
            },
        };

        var run = (await RunAsync(workers, save: saved.Add, cancellation: stop.Token)).Run!;

        Assert.Equal(RunState.Interrupted, run.State);
        Assert.Equal(3, run.Studies[0].Sittings.Count);
        Assert.Equal(RunState.Interrupted, saved[^1].State);
        Assert.All(saved.SkipLast(1), partial => Assert.Equal(RunState.Running, partial.State));
    }

    [Fact]
    public async Task Sittings_stop_when_the_precision_is_reached_and_a_note_says_when_it_was_not()
    {
        var plan = new RunPlan { PrecisionShare = 0.01 };
        var reached = await RunAsync(new ScriptedWorkers(Lamps), plan, isPrecise: study => study.Sittings.Count >= 8);
        var missed = await RunAsync(new ScriptedWorkers(Lamps), plan, isPrecise: _ => false);

        Assert.Equal(8, reached.Run!.Studies[0].Sittings.Count);
        Assert.Null(reached.Run.Studies[0].Note);
        Assert.Contains("--within", missed.Run!.Studies[0].Note, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Apart_every_set_is_followed_by_sittings_in_workers_of_their_own_and_all_of_them_are_ended()
    {
        var workers = new ScriptedWorkers(Lamps);

        var sittings = (await RunAsync(workers, new RunPlan { IsApart = true })).Run!.Studies[0].Sittings;

        Assert.Equal((6, 6), (sittings.Count(sitting => !sitting.IsApart), sittings.Count(sitting => sitting.IsApart)));
        Assert.Equal(Enumerable.Range(1, 12), sittings.Select(sitting => sitting.Number));
        Assert.All(sittings, sitting => Assert.Equal(sitting.IsApart
            ? 4
            : 1, sitting.Cells.Select(cell => cell.Worker).Distinct().Count()));
        foreach (var sitting in sittings)
        {
            // Every turn begins with the metronome of the worker whose cell it is.
            var pairs = sitting.Readings.Zip(sitting.Readings.Skip(1))
                .Where(pair => sitting.Cells[pair.First.Cell].Kind == CellKind.Metronome).ToList();
            Assert.All(pairs, pair => Assert.Equal(sitting.Cells[pair.First.Cell].Worker, sitting.Cells[pair.Second.Cell].Worker));
            Assert.Equal(Enumerable.Range(0, sitting.Cells.Count)
                .Where(cell => sitting.Cells[cell] is { Kind: not CellKind.Metronome, Copy: 0 }), pairs.Select(pair => pair.Second.Cell)
                .Distinct().Order());
        }

        Assert.Equal(2 + 6 + (6 * 4) - 1, workers.Started);
        Assert.Equal(workers.Started, workers.Disposed);
    }

    [Fact]
    public async Task A_comparison_is_repeated_in_new_sittings()
    {
        var sittings = (await RunAsync(new ScriptedWorkers(Lamps), new RunPlan { Repeats = 3 })).Run!.Studies[0].Sittings;

        Assert.Equal([6, 6, 6], sittings.GroupBy(sitting => sitting.Repeat).Select(repeat => repeat.Count()));
        Assert.Equal(18, sittings.Select(sitting => sitting.Seed).Distinct().Count());
    }

    [Fact]
    public async Task Once_a_contrast_is_known_its_cells_rest_and_the_others_go_on()
    {
        var study = (await RunAsync(new ScriptedWorkers(Lamps), decided: [(1, 0)])).Run!.Studies[0];

        int Rounds(SittingRecord sitting, int variant)
            => sitting.Readings.Where(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant } cell && cell.Variant == variant)
                .Select(reading => reading.Round).Distinct().Count();
        var (first, last) = (study.Sittings[0], study.Sittings[^1]);
        Assert.Equal(first.Rounds, Rounds(first, 1));
        Assert.Equal((last.Rounds, (last.Rounds + 3) / 4, last.Rounds), (Rounds(last, 0), Rounds(last, 1), Rounds(last, 2)));
    }

    [Fact]
    public async Task What_is_noticed_beside_an_answer_comes_with_the_study()
    {
        var workers = new ScriptedWorkers(Lamps) { Check = request => new CheckReply { Observed = request.Variant == 2
            ? [new(ObservationKind.ChangesInput, "it was another")]
            : [] } };

        var seen = Assert.Single((await RunAsync(workers)).Run!.Studies[0].Observations);

        Assert.Equal((2, 0, ObservationKind.ChangesInput, "it was another"), (seen.Variant, seen.Input, seen.Kind, seen.Evidence));
    }

    // The calendar is put back by an hour in the middle; a call takes seconds of the other clock.
    [Fact]
    public async Task A_clock_that_is_set_changes_no_time_that_is_kept_and_is_told()
    {
        var clock = new ManualClock();
        var workers = new ScriptedWorkers(Lamps)
        {
            Asked = method =>
            {
                clock.Advance(method is WorkerMethods.Warm or WorkerMethods.Read ? 1 : 0.01);
                clock.CalendarShift = method == WorkerMethods.Bye ? TimeSpan.FromHours(-1) : clock.CalendarShift;
            },
        };

        var run = (await RunAsync(workers, new RunPlan { WithinSeconds = 30 }, clock: clock)).Run!;

        Assert.Equal(-3_600, run.ClockStepSeconds, 3);
        Assert.InRange(clock.Seconds, 25, 31);
        Assert.All(run.Studies[0].Sittings, sitting => Assert.True(sitting.EndedSeconds > sitting.BeganSeconds));
    }

    [Fact]
    public async Task The_time_left_is_forecast_by_what_was_seen()
    {
        var clock = new ManualClock();
        var workers = new ScriptedWorkers(Lamps,
            Beacons) { Asked = method => clock.Advance(method == WorkerMethods.Warm ? 2.5 : method == WorkerMethods.Read ? 0.2 : 0.01) };
        var forecasts = new List<(double At, double Left)>();

        await RunAsync(workers, clock: clock,
            progress: new Watcher(seen => forecasts.Add((clock.Seconds, seen.TimeLeft!.Value.TotalSeconds))));

        // A slow machine, which nobody could know: after a tenth of the whole it is.
        var late = forecasts.Where(seen => seen.At > 0.15 * clock.Seconds).ToList();
        Assert.NotEmpty(late);
        Assert.All(late, seen => Assert.InRange(seen.At + seen.Left, clock.Seconds * 0.75, clock.Seconds * 1.25));
    }

    [Fact]
    public async Task A_watcher_gets_a_first_look_before_the_first_sitting_is_over()
    {
        var looks = new List<(int Sittings, int Rounds)>();

        await RunAsync(new ScriptedWorkers(Lamps), sittingDone: study => looks.Add((study.Sittings.Count, study.Sittings[^1].Rounds)));

        Assert.Equal([1, 1, 2, 3, 4, 5, 6], looks.Select(look => look.Sittings));
        Assert.True(looks[0].Rounds < looks[1].Rounds);
    }

    private sealed class ManualClock : TimeProvider
    {
        public double Seconds { get; private set; }

        public TimeSpan CalendarShift { get; set; }

        public override long TimestampFrequency => 1_000_000;

        public void Advance(double seconds) => Seconds += seconds;

        public override long GetTimestamp() => (long)(Seconds * TimestampFrequency);

        public override DateTimeOffset GetUtcNow() => DateTimeOffset.UnixEpoch + TimeSpan.FromSeconds(Seconds) + CalendarShift;
    }

    private sealed class Watcher(Action<RunProgress> watch) : IProgress<RunProgress>
    {
        public void Report(RunProgress value) => watch(value);
    }

    private static Task<RunOutcome> RunAsync(
        ScriptedWorkers workers,
        RunPlan? plan = null,
        Action<Run>? save = null,
        Func<StudyRecord, bool>? isPrecise = null,
        (int Variant, int Input)[]? decided = null,
        int? worth = null,
        Action<StudyRecord>? sittingDone = null,
        TimeProvider? clock = null,
        IProgress<RunProgress>? progress = null,
        CancellationToken cancellation = default)
        => new Experiment(workers, plan ?? new RunPlan(), new ExperimentSurroundings
        {
            Machine = new() { Processor = "Lamp", ProcessorCount = 2, OperatingSystem = "Harbour" },
            Tool = "test",
            Clock = clock ?? TimeProvider.System,
            Progress = progress,
            Save = save,
            SittingDone = sittingDone is null ? null : (_, study) => sittingDone(study),
            Judge = (_, study) => new Standing
            {
                IsPreciseEnough = isPrecise?.Invoke(study) == true, SittingsWorth = worth, Decided = decided ?? [],
            },
        }).RunAsync(cancellation);

    private static string Orders(Run run)
        => string.Join('|', run.Studies[0].Sittings.Select(sitting =>
            string.Join(',', sitting.Cells.Select(cell => $"{cell.Kind}{cell.Variant}{cell.Input}")) + string.Join(',',
                sitting.Readings.Select(reading => reading.Cell))));

    internal static StudyDescription Study(string name, int inputs) => new()
    {
        Name = name,
        Agreement = "exactly",
        Inputs = [.. Enumerable.Range(0, inputs).Select(input => new InputDescription { Label = $"input {input}" })],
        Variants = [.. Enumerable.Range(0, 3)
            .Select(variant => new VariantDescription { Name = $"v{variant}", Variant = $"v{variant}", IsBaseline = variant == 0 })],
    };
}
