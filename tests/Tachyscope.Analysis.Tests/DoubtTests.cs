using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>Every caveat, provoked in a run that is clean but for the one thing it tells of.</summary>
public sealed class DoubtTests
{
    private static readonly RunSimulator Clean = new() { Times = [100, 50], Slowing = 0, SittingDeviation = 0.0005,
        ReadingDeviation = 0.005, OutlierShare = 0.02, Rounds = 30, CallsPerReading = 1_000 };

    public static TheoryData<string, string> Spoilt => new()
    {
        { "profiler-attached", "CORECLR_ENABLE_PROFILING" },
        { "vectors-narrower", "vectors of 128 bits were in use, though the processor has 256" },
        { "single-processor", "one processor" },
        { "processor-quota", "the time of 0.5 processors at most" },
        { "worker-replaced", "a worker was lost and another took its place: it fell" },
        { "left-processes", "and were ended: sleep" },
        { "calls-unforeseen", "took 51 cycles while the core was ours alone, and 10 while it was shared, when v0 on a lamp took 0.6" },
        { "core-shared", "ours alone beside 0 % of the readings" },
        { "noisy-machine", "of the metronome's readings were more than 5 % slower" },
        { "frequency-policy", "policy is powersave" },
        { "clock-stepped", "moved -3600.0 s" },
        { "memory-short", "112 %" },
        { "stood-still", "for up to 1.0 s at once, in 1 reading" },
        { "not-pinned", "did not hold the worker to one processor" },
        { "no-processor-time", "does not tell the processor time" },
        { "optimised-late", "times as long or more before; 3 rounds of 180 were left out" },
        { "answers-disagree", "answers 4" },
        { "input-changed", "its input was another" },
        { "answers-late", "it answers with a function" },
        { "ignores-input", "to all 3 inputs" },
        { "twins-told-apart", "two copies of the baseline differ by 3.0 %" },
        { "repeats-disagree", "the repeats differ by" },
        { "sleeps", "90 % of its time off the processor" },
        { "reads-or-writes", "2 times a call" },
        { "clock-coarse", "steps of 200000 ns" },
        { "answers-uncompared", "it answers fog where it answers mist on old: what does not do the same job is not to be compared" },
        { "drifts", "grows by" },
        { "place-matters", "longer late in a round" },
        { "two-modes", "two heaps" },
        { "sittings-disagree", "from one process to the next" },
        { "stray-processes", "in 1 of 12 processes it took 1.51 times as long as in the others" },
        { "differs-apart", "0.50 times the baseline's time beside the other variants and 0.81 times" },
        { "allocation-varies", "between 24 and 240 bytes" },
        { "collections-spread", "a collection fell into 30 %" },
        { "does-not-grow", "1.00 times as long on 64 times the size (lamps)" },
    };

    [Theory]
    [MemberData(nameof(Spoilt))]
    public void It_is_told_with_its_evidence_and_a_way_out(string name, string evidence)
    {
        var caveats = Examine(Spoil(name)).Caveats;

        var caveat = Assert.Single(caveats.Where(caveat => caveat.Name == name).Take(1));
        Assert.Contains(evidence, caveat.Evidence, StringComparison.Ordinal);
        Assert.NotEmpty(caveat.WayOut);
    }

    [Fact]
    public void What_competes_for_its_processor_as_the_metronome_does_is_not_said_to_sleep()
        => Assert.DoesNotContain(
            Examine(OfReadings(Clean.Make(1),
                (_, reading) => reading with { ProcessorNanoseconds = reading.ElapsedNanoseconds / 3 })).Caveats,
                caveat => caveat.Name == "sleeps");

    [Theory]
    [InlineData(0.0, false, false)]
    [InlineData(0.0, true, true)]
    [InlineData(null, false, true)]
    public void A_look_up_that_answers_as_a_search_that_grows_is_not_doubted_unless_it_ignores_its_input(double? tolerance, bool isIgnoring,
        bool isDoubted)
    {
        // The first takes ten times as long on the larger input, the second as long as on the smaller.
        var run = OfReadings(Sizes(Clean.Make(1)), (sitting, reading) => sitting.Cells[reading.Cell] is { Variant: 0, Input: 1 }
            ? Longer(reading, 10)
            : reading);
        var study = run.Studies[0];
        CellObservation ignoring = new() { Variant = 1, Input = 1, Kind = ObservationKind.IgnoresInput,
            Evidence = "it answers the same to all 3 inputs" };

        var caveats = Examine(run with { Studies = [study with { Study = study.Study with { Tolerance = tolerance },
            Observations = isIgnoring ? [ignoring] : [] }] }).Caveats;

        Assert.Equal(isDoubted, caveats.Any(caveat => caveat.Name == "does-not-grow"));
    }

    [Fact]
    public void Clean_runs_have_none()
        => Assert.All(Enumerable.Range(1, 40), seed => Assert.Empty(Examine(Clean.Make(seed)).Caveats));

    [Theory]
    [InlineData(6)]
    [InlineData(8)]
    [InlineData(9)]
    [InlineData(24)]
    public void Of_runs_whose_processes_differ_steadily_hardly_one_has_a_stray(int sittings)
    {
        var simulator = Clean with { Sittings = sittings, SittingDeviation = 0.03 };
        var told = Enumerable.Range(1, 100)
            .Count(seed => Examine(simulator.Make(seed)).Caveats.Any(caveat => caveat.Name == "stray-processes"));

        Assert.InRange(told, 0, 1);
    }

    [Theory]
    [InlineData(0.6, 1.0, 51, true)]
    [InlineData(1.6, 1.2, 51, false)]
    [InlineData(0.6, 0.6, 51, false)]
    [InlineData(0.6, 1.0, 10, false)]
    public void Another_order_where_calls_are_foreseen_is_told_of_the_row(double baseline, double variant, double quietCycles, bool isTold)
    {
        var caveats = Examine((Clean with { SharedShare = 0.4, SharedFactors = [baseline, variant], CallCycles = (quietCycles, 10) })
            .Make(1)).Caveats;

        var told = caveats.Where(caveat => caveat is { Name: "calls-unforeseen", IsOfRun: false }).ToList();
        Assert.Equal(isTold ? ["v1, a lamp"] : [], told.Select(caveat => caveat.Subject));
        Assert.All(told, caveat => Assert.Matches(
            @"it took 0\.8[34] times the baseline's time \(0\.8\d to 0\.8\d\), and 0\.50 times beside one of its own", caveat.Evidence));
    }

    [Theory]
    [InlineData(44.0, 10, true)]
    [InlineData(44.0, 22, true)]
    [InlineData(44.0, 40, false)]
    [InlineData(12.0, 7, false)]
    [InlineData(null, 10, false)]
    public void Calls_that_are_foreseen_beside_a_shared_core_are_told_where_an_earlier_run_saw_that_they_are_not_on_a_quiet_one(
        double? before, double sharedCycles, bool isTold)
    {
        var run = (Clean with { SharedShare = 1.3, CallCycles = (51, sharedCycles) }).Make(1) with { QuietCallCycles = before };
        var found = Examine(run);

        Assert.False(found.Core.IsQuiet);
        Assert.Equal(isTold ? [$"a virtual call took {sharedCycles} cycles while the core was shared, and 44 in an earlier run on this "
            + "machine, while it was ours alone: this processor does not foresee where a call leads then"] : [],
            found.Caveats.Where(caveat => caveat.Name == "calls-unforeseen").Select(caveat => caveat.Evidence));
    }

    [Theory]
    [InlineData(12, false)]
    [InlineData(51, true)]
    public void What_an_earlier_run_saw_of_calls_gives_way_to_what_another_study_of_this_run_sees(double now, bool isTold)
    {
        var run = (Clean with { SharedShare = 1.3, CallCycles = (51, 10) }).Make(1) with { QuietCallCycles = 44 };
        var other = (Clean with { SharedShare = 0.2, CallCycles = (now, 10) }).Make(2).Studies[0];

        Assert.Equal(isTold, Examine(run with { Studies = [run.Studies[0], other] })
            .Caveats.Any(caveat => caveat.Name == "calls-unforeseen"));
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Calls_are_taken_for_unforeseen_only_after_turns_that_were_quiet_throughout(bool areQuietThroughout)
    {
        var run = (Clean with { SharedShare = 0.2, CallCycles = (51, 60) }).Make(1);
        var found = Examine(run with
        {
            Studies = [run.Studies[0] with
            {
                Sittings = [.. run.Studies[0].Sittings.Select(sitting => sitting with
                {
                    Gauges = [.. sitting.Gauges.Select(turn => areQuietThroughout ? turn
                        : turn with { Gauges = [2 * turn.Gauges[0], .. turn.Gauges.Skip(1)] })],
                })],
            }],
        });

        Assert.Equal(areQuietThroughout, found.Core.Calls.AreUnforeseenWhenQuiet);
        Assert.Equal(areQuietThroughout, found.Caveats.Any(caveat => caveat.Name == "calls-unforeseen"));
    }

    [Theory]
    [InlineData(6)]
    [InlineData(8)]
    public void One_far_off_of_a_few_is_told_with_what_the_others_took(int sittings)
    {
        var caveats = Examine(OfReadings((Clean with { Sittings = sittings }).Make(1), (sitting, reading)
            => sitting is { Number: 3 } && sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 } ? Longer(reading, 10)
                : reading)).Caveats;

        var caveat = Assert.Single(caveats, caveat => caveat.Name == "stray-processes");
        Assert.Matches($@"^in 1 of {sittings} processes it took (9\.[89]|10\.[01])\d times as long as in the others, which took "
            + @"(49\.[5-9]|50\.[0-4])\d* ns ± 0\.\d+$", caveat.Evidence);
        Assert.Contains("nine sittings and more", caveat.WayOut, StringComparison.Ordinal);
        Assert.DoesNotContain(caveats, caveat => caveat.Name == "sittings-disagree");
    }

    // What sharing costs is found in the others, and theirs are the figures from nine sittings on.
    [Theory]
    [InlineData(8)]
    [InlineData(12)]
    public void One_far_off_does_not_tell_what_sharing_the_core_costs(int sittings)
    {
        var simulator = Clean with { Sittings = sittings, SharedShare = 0.85, Rounds = 40 };
        var found = Enumerable.Range(1, 40).Select(seed => Examine(OfReadings(simulator.Make(seed), (sitting, reading)
            => sitting is { Number: 3 } && sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 }
                ? Longer(reading, reading.Round % 3 == 0 ? 60 : 17) : reading))).First(found => found.Core.IsAdjusted);

        var caveat = Assert.Single(found.Caveats, caveat => caveat.Name == "stray-processes");
        Assert.Matches($@"^in 1 of {sittings} processes it took (1[5-9]|2\d)\.\d+ times as long as in the others", caveat.Evidence);
        var (time, ratio) = (found.Inputs[0].Cells[1].NanosecondsPerCall, found.Inputs[0].Cells[1].Contrast!.TimeRatio);
        if (sittings > 8)
        {
            Assert.InRange(time.Estimate, 49, 51);
            Assert.InRange(time.HalfWidth, 0, 2);
            Assert.InRange(ratio.Estimate, 0.48, 0.52);
            Assert.InRange(ratio.HalfWidth, 0, 0.02);
        }
        else
        {
            Assert.Matches(@"which took (4[89]|5[0-2])\.\d+ ns", caveat.Evidence);
        }
    }

    // In two rounds of three, as in a run of a second or two; and in a few of many.
    [Theory]
    [InlineData(1, 3, 2)]
    [InlineData(1, 12, 2)]
    [InlineData(6, 30, 9)]
    [InlineData(12, 10, 4)]
    public void What_was_read_before_it_was_optimised_does_not_count(int sittings, int rounds, int early)
    {
        var clean = Clean with { Sittings = sittings, Rounds = rounds };
        var (found, without) = (Examine(OptimisedLate(clean, early)), Examine(clean.Make(1)));

        Assert.Matches($"^in 1 of {sittings} sittings? code was optimised after reading had begun: v1, a lamp took 9\\.\\d times as long "
            + "or more",
            Assert.Single(found.Caveats, caveat => caveat.Name == "optimised-late").Evidence);
        Assert.InRange(found.Inputs[0].Cells[1].NanosecondsPerCall.Estimate / without.Inputs[0].Cells[1].NanosecondsPerCall.Estimate,
            0.98, 1.02);
        Assert.InRange(found.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 0.49, 0.51);
    }

    // What the system takes the processor for, and who shares the core, is there for another reason.
    [Fact]
    public void What_is_slower_at_first_for_another_reason_counts()
    {
        var noisy = new RunSimulator { SharedShare = 0.5, Rounds = 10, CallsPerReading = 500, Slowing = 0.3 };
        var left = Enumerable.Range(1, 200).Count(seed => Examine(OfReadings(noisy.Make(seed), (_, reading)
            => (reading.Round * 7) + reading.Place > 60 ? reading : reading with { CompiledMethods = 1 })).Caveats
            .Any(caveat => caveat.Name == "optimised-late"));
        var kept = OfReadings(Clean.Make(1), (sitting, reading) => Early(sitting, reading, 3)
            ? reading with { ElapsedNanoseconds = reading.ElapsedNanoseconds * 10, CompiledMethods = 1 } : reading);

        Assert.Equal(0, left);
        Assert.DoesNotContain(Examine(kept).Caveats, caveat => caveat.Name == "optimised-late");
        Assert.DoesNotContain(Examine(OfReadings(OptimisedLate(Clean, 3), (_, reading) => reading with { CompiledMethods = 0 })).Caveats,
            caveat => caveat.Name == "optimised-late");
    }

    // Machines whose speed comes and goes, interruptions, layout: what medians and pairs are there for.
    [Fact]
    public void Of_runs_on_a_machine_that_others_use_too_at_most_one_cell_in_a_hundred_is_doubted_for_its_own_sake()
    {
        string[] ofMachine = ["noisy-machine", "speed-changed", "interrupted", "coarse"];
        var simulator = new RunSimulator { Times = [100, 50, 99, 300], Bytes = [0, 24, 0, 8], SittingDeviation = 0.002, Rounds = 40,
            CallsPerReading = 1_000 };
        var doubted = Enumerable.Range(1, 200)
            .Sum(seed => Examine(simulator.Make(seed)).Caveats.Count(caveat => !ofMachine.Contains(caveat.Name)));

        Assert.True(doubted <= 8,
            string.Join("\n", Enumerable.Range(1, 200).SelectMany(seed => Examine(simulator.Make(seed)).Caveats)
                .Where(caveat => !ofMachine.Contains(caveat.Name)).GroupBy(caveat => caveat.Name)
                .Select(group => $"{group.Key} {group.Count()} {group.First().Evidence}")));
    }

    /// <summary>
    /// Readings of about 5 milliseconds, a few rounds of them: no beat is next to them, and the machine's speed changes by a third.
    /// </summary>
    [Theory]
    [InlineData(0.1, 190, 200)]
    [InlineData(0, 0, 2)]
    public void A_drift_of_long_readings_is_told_and_the_machine_s_own_is_not(double drift, int fewest, int most)
    {
        var simulator = new RunSimulator { Times = [5e6, 4e6], SittingDeviation = 0.002, Rounds = 20, CallsPerReading = 1, Drift = 0.3 };
        var told = Enumerable.Range(1, 200)
            .Count(seed => Examine(OfVariant(simulator.Make(seed), reading => Longer(reading, 1 + (drift * reading.Round / 20)))).Caveats
            .Any(caveat => caveat is { Name: "drifts", Subject: "v1, a lamp" }));

        Assert.InRange(told, fewest, most);
    }

    [Fact]
    public void Every_caveat_there_is_is_in_the_list_of_them()
    {
        var page = File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "caveats.md"));

        Assert.All(Spoilt, row => Assert.Contains($"| `{row.Data.Item1}` |", page, StringComparison.Ordinal));
        Assert.All(AnalystTests.Spoilt, row => Assert.Contains($"| `{row.Data.Item1}` |", page, StringComparison.Ordinal));
    }

    private static Run Spoil(string name)
    {
        var run = Clean.Make(1);
        Run Study(Func<StudyRecord, StudyRecord> alter) => run with { Studies = [alter(run.Studies[0])] };
        Run Sittings(Func<SittingRecord, SittingRecord> alter)
            => Study(study => study with { Sittings = [.. study.Sittings.Select(alter)] });
        Run Readings(Func<SittingRecord, Reading, Reading> alter) => OfReadings(run, alter);
        Run OfSecond(Func<Reading, Reading> alter) => OfVariant(run, alter);
        Run Observed(ObservationKind kind, string evidence)
            => Study(study => study with { Observations = [new() { Variant = 1, Input = 0, Kind = kind, Evidence = evidence }] });
        var machine = run.Machine;
        return name switch
        {
            "profiler-attached" => run with { Environment = run.Environment with { IsProfilerAttached = true } },
            "vectors-narrower" => run with { Environment = run.Environment with { VectorBits = 128 },
                Machine = machine with { VectorBits = 256 } },
            "single-processor" => run with { Environment = run.Environment with { Processors = [0] } },
            "processor-quota" => run with { Machine = machine with { ProcessorQuota = 0.5 } },
            "worker-replaced" => Study(study => study with { Incidents = [new() { Kind = WorkerIncidentKind.Replaced,
                Evidence = "it fell" }] }),
            "left-processes" => Study(study => study with { Incidents = [new() { Kind = WorkerIncidentKind.LeftProcesses,
                Evidence = "sleep" }] }),
            "calls-unforeseen" => (Clean with { SharedShare = 0.4, SharedFactors = [0.6, 1.2], CallCycles = (51, 10) }).Make(1),
            "core-shared" => (new RunSimulator { SharedShare = 1.3, CallsPerReading = 500 }).Make(1),
            "noisy-machine" => Readings(NoisyBeat),
            "frequency-policy" => Readings(NoisyBeat) with { Machine = machine with { Governor = "powersave" } },
            "clock-stepped" => run with { ClockStepSeconds = -3_600 },
            "memory-short" => Sittings(sitting => sitting with { MemoryLoadShare = 1.12 }),
            "stood-still" => Stopped(run),
            "not-pinned" => Sittings(sitting => sitting with { IsPinned = false }),
            "no-processor-time" => Readings((_, reading) => reading with { ProcessorNanoseconds = null }),
            "optimised-late" => OptimisedLate(Clean, 3),
            "answers-disagree" => Study(study => study with { Failures = [new() { Variant = 1, Input = 0, Kind = CellFailureKind.Disagrees,
                Reason = "answers 4" }] }),
            "input-changed" => Observed(ObservationKind.ChangesInput, "its input was another after the call"),
            "answers-uncompared" => Observed(ObservationKind.NotComparedAcross, "it answers fog where it answers mist on old"),
            "answers-late" => Observed(ObservationKind.AnswersLater, "it answers with a function"),
            "ignores-input" => Observed(ObservationKind.IgnoresInput, "it answers the same to all 3 inputs"),
            "twins-told-apart" => Readings((sitting, reading) => sitting.Cells[reading.Cell].Kind == CellKind.Twin
                ? Longer(reading, 1.03)
                : reading),
            "repeats-disagree" => Study(study => study with { Sittings = [.. study.Sittings,
                .. study.Sittings.Select(sitting => sitting with
            {
                Repeat = 2, Readings = [.. sitting.Readings.Select(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant,
                    Variant: 1 } ? Longer(reading, 1.1) : reading)],
            })] }),
            "sleeps" => OfSecond(reading => reading with { ProcessorNanoseconds = reading.ElapsedNanoseconds / 10 }),
            "reads-or-writes" => Sittings(sitting
                => sitting with { WarmUps = [.. sitting.WarmUps.Select(warm => warm with { ReadsAndWritesPerCall = 2 })] }),
            "clock-coarse" => run with { Environment = run.Environment with { ClockStepNanoseconds = 200_000 } },
            "drifts" => OfSecond(reading => Longer(reading, 1 + (0.004 * reading.Round))),
            "place-matters" => LateInRound((Clean with { Times = [100, 50, 70, 80, 90], Bytes = new long[5], IsShuffled = true }).Make(1)),
            "two-modes" => OfSecond(reading => Longer(reading, reading.Round % 2 == 0 ? 1 : 1.2)),
            "sittings-disagree" => (Clean with { Times = [100, 97], SittingDeviation = 0.03 }).Make(1),
            "stray-processes" => OfReadings((Clean with { Sittings = 12 }).Make(1), (sitting, reading)
                => sitting is { Number: 3 } && sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 } ? Longer(reading, 1.5)
                    : reading),
            "differs-apart" => Study(study => study with { Sittings = [.. study.Sittings, .. study.Sittings.Select(Apart)] }),
            "allocation-varies" => OfSecond(reading => reading with { AllocatedBytes = (reading.Round % 2 == 0
                ? 24
                : 240) * reading.Calls }),
            "collections-spread" => OfSecond(reading => reading.Round % 10 < 3
                ? Longer(reading, 1.8) with { CollectionsGen0 = 1 }
                : reading),
            _ => Sizes(run),
        };
    }

    private static Run OfReadings(Run run, Func<SittingRecord, Reading, Reading> alter) => run with
    {
        Studies = [.. run.Studies.Select(study => study with
        {
            Sittings = [.. study.Sittings.Select(sitting => sitting with { Readings = [.. sitting.Readings.Select(reading => alter(sitting,
                reading))] })],
        })],
    };

    private static Run OfVariant(Run run, Func<Reading, Reading> alter)
        => OfReadings(run, (sitting, reading) => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 }
            ? alter(reading)
            : reading);

    private static Reading NoisyBeat(SittingRecord sitting, Reading reading)
        => sitting.Cells[reading.Cell].Kind == CellKind.Metronome && reading.Round % 4 == 0 ? Longer(reading, 1.3) : reading;

    private static Reading Longer(Reading reading, double times)
        => reading with { ElapsedNanoseconds = (long)(reading.ElapsedNanoseconds * times),
            ProcessorNanoseconds = (long?)(reading.ProcessorNanoseconds * times) };

    // In the first sitting, the second takes ten times as long in its first rounds, in the last of which it is compiled.
    private static Run OptimisedLate(RunSimulator simulator, int rounds) => OfReadings(simulator.Make(1), (sitting, reading)
        => Early(sitting, reading, rounds)
            ? Longer(reading, 10) with { CompiledMethods = reading.Round == rounds - 1 ? 1 : 0 }
            : reading);

    private static bool Early(SittingRecord sitting, Reading reading, int rounds)
        => sitting.Number == 1 && reading.Round < rounds && sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 };

    private static Run LateInRound(Run run) => OfVariant(run, reading => Longer(reading, reading.Place > 3 ? 1.1 : 1));

    private static Run Stopped(Run run)
    {
        var sitting = run.Studies[0].Sittings[2];
        Reading[] readings = [.. sitting.Readings];
        readings[50] = readings[50] with { ElapsedNanoseconds = readings[50].ElapsedNanoseconds + 1_000_000_000 };
        return run with { Studies = [run.Studies[0] with { Sittings = [.. run.Studies[0].Sittings.Select(one => one == sitting
            ? one with { Readings = readings }
            : one)] }] };
    }

    // The variant, 0.5 times as long as the baseline beside it, takes 0.8 times in a worker of its own, on a slower machine.
    private static SittingRecord Apart(SittingRecord sitting)
    {
        var cells = sitting.Cells.Select(cell => cell with { Worker = cell is { Kind: CellKind.Variant, Variant: 1 } ? 1 : 0 }).ToList();
        var beat = cells.FindIndex(cell => cell.Kind == CellKind.Metronome);
        var variant = cells.FindIndex(cell => cell.Worker == 1);
        CellDescription[] more = [new() { Kind = CellKind.Metronome, Worker = 1 }, new() { Kind = CellKind.Identity, Worker = 1 }];
        var readings = new List<Reading>();
        for (var i = 0; i < sitting.Readings.Count; i++)
        {
            var reading = sitting.Readings[i];
            var isOfVariant = reading.Cell == variant || (reading.Cell == beat && sitting.Readings[i + 1].Cell == variant);
            readings.Add(!isOfVariant ? reading : reading.Cell == variant ? Longer(reading, 1.6 * 1.25)
                : Longer(reading with { Cell = cells.Count }, 1.25));
            if (cells[reading.Cell].Kind == CellKind.Identity)
            {
                readings.Add(Longer(reading with { Cell = cells.Count + 1, Place = reading.Place + 50 }, 1.25));
            }
        }

        return sitting with { IsApart = true, IsPinned = false, Cells = [.. cells, .. more], Readings = readings };
    }

    private static Run Sizes(Run run)
    {
        InputDescription Lamps(int count) => new() { Label = $"{count} lamps", Sizes = [new("lamps", count)] };
        var study = run.Studies[0];
        return run with
        {
            Studies = [study with
            {
                Study = study.Study with { Inputs = [Lamps(16), Lamps(1_024)] },
                Sittings = [.. study.Sittings.Select(sitting => sitting with
                {
                    Cells = [.. sitting.Cells, .. sitting.Cells.Select(cell => cell with { Input = 1 })
                        .Where(cell => cell.Kind is CellKind.Variant or CellKind.Twin)],
                    Readings = [.. sitting.Readings.SelectMany(reading => Twice(sitting, reading))],
                })],
            }],
        };
    }

    private static IEnumerable<Reading> Twice(SittingRecord sitting, Reading reading)
    {
        yield return reading;
        List<int> measured = [.. Enumerable.Range(0, sitting.Cells.Count)
            .Where(cell => sitting.Cells[cell].Kind is CellKind.Variant or CellKind.Twin)];
        if (measured.IndexOf(reading.Cell) is var place and >= 0)
        {
            yield return reading with { Cell = sitting.Cells.Count + place, Place = reading.Place + 100 };
        }
    }

    private static StudyFindings Examine(Run run) => Analyst.Examine(run, AnalysisOptions.Default)[0];
}
