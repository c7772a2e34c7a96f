using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

public sealed class AnalystTests
{
    private const int Runs = 1_000;

    [Fact]
    public void Without_noise_the_truth_comes_out()
    {
        var quiet = new RunSimulator { Times = [100, 50, 2], Bytes = [24, 0, 8024], SittingDeviation = 0, ReadingDeviation = 0,
            OutlierShare = 0, Slowing = 0 };

        var input = Examine(quiet.Make(1)).Inputs[0];

        Assert.Equal([100, 50, 2], input.Cells.Select(cell => Math.Round(cell.NanosecondsPerCall.Estimate, 3)));
        Assert.Equal([24, 0, 8024], input.Cells.Select(cell => cell.AllocatedBytesPerCall));
        Assert.Equal(0.5, input.Cells[1].Contrast!.TimeRatio.Estimate, 4);
        Assert.Equal(0.98, input.Cells[2].Contrast!.ShareSaved, 4);
        Assert.Equal([Verdict.Faster, Verdict.Faster], input.Cells.Skip(1).Select(cell => cell.Contrast!.Verdict));
        Assert.Null(input.Cells[0].Contrast);
        Assert.Equal(Judge.SmallestResolutionShare, input.ResolutionShare);
    }

    [Fact]
    public void Intervals_hold_the_truth_95_times_in_100_through_layout_outliers_and_changes_of_speed()
    {
        var simulator = new RunSimulator { Times = [100, 98] };
        var ratioHeld = 0;
        for (var run = 0; run < Runs; run++)
        {
            var ratio = Examine(simulator.Make(run)).Inputs[0].Cells[1].Contrast!.TimeRatio;
            ratioHeld += ratio.Lower <= 0.98 && ratio.Upper >= 0.98 ? 1 : 0;
        }

        Assert.InRange((double)ratioHeld / Runs, 0.93, 0.97);
    }

    [Fact]
    public void Of_ten_equal_variants_one_is_called_different_in_at_most_5_runs_of_100()
    {
        var simulator = new RunSimulator { Times = [.. Enumerable.Repeat(100.0, 10)], Bytes = new long[10], Rounds = 8 };
        var falseRuns = 0;
        for (var run = 0; run < 200; run++)
        {
            var verdicts = Examine(simulator.Make(run)).Inputs[0].Cells.Skip(1).Select(cell => cell.Contrast!.Verdict);
            falseRuns += verdicts.Any(verdict => verdict is Verdict.Faster or Verdict.Slower) ? 1 : 0;
        }

        Assert.InRange(falseRuns, 0, 10);
    }

    [Fact]
    public void A_difference_of_one_percent_is_found_with_the_right_sign()
    {
        var simulator = new RunSimulator { Times = [100, 101], SittingDeviation = 0.001, Rounds = 48 };
        var found = 0;
        for (var run = 0; run < 200; run++)
        {
            var verdict = Examine(simulator.Make(run)).Inputs[0].Cells[1].Contrast!.Verdict;
            Assert.NotEqual(Verdict.Faster, verdict);
            found += verdict == Verdict.Slower ? 1 : 0;
        }

        Assert.InRange(found, 190, 200);
    }

    [Fact]
    public void A_variant_that_failed_has_no_figures_and_the_others_have_theirs()
    {
        var failure = new CellFailure { Variant = 1, Input = 0, Kind = CellFailureKind.Threw, Reason = "dark" };

        var cells = Examine(new RunSimulator { Times = [100, 50, 50], Bytes = new long[3], Failures = [failure] }.Make(1)).Inputs[0].Cells;

        Assert.Same(failure, cells[1].Failure);
        Assert.False(cells[1].NanosecondsPerCall.IsKnown);
        Assert.Null(cells[1].Contrast);
        Assert.Equal(Verdict.Faster, cells[2].Contrast!.Verdict);
    }

    [Fact]
    public void Without_a_baseline_nothing_is_compared_and_a_caveat_says_so()
    {
        var failure = new CellFailure { Variant = 0, Input = 0, Kind = CellFailureKind.Disagrees, Reason = "dark" };

        var findings = Examine(new RunSimulator { Failures = [failure] }.Make(1));

        Assert.Null(findings.Inputs[0].Cells[1].Contrast);
        Assert.True(findings.Inputs[0].Cells[1].NanosecondsPerCall.IsKnown);
        Assert.Contains(findings.Caveats, caveat => caveat.Name == "no-baseline");
    }

    [Fact]
    public void A_run_without_sittings_or_with_one_claims_nothing()
    {
        var none = Examine(new RunSimulator { Sittings = 0 }.Make(1)).Inputs[0].Cells[1];
        var one = Examine(new RunSimulator { Sittings = 1, Times = [100, 10] }.Make(1)).Inputs[0].Cells[1];

        Assert.False(none.NanosecondsPerCall.IsKnown);
        Assert.Equal(Verdict.Unclear, none.Contrast!.Verdict);
        Assert.Equal(Verdict.Unclear, one.Contrast!.Verdict);
        Assert.False(one.NanosecondsPerCall.IsBounded);
    }

    [Fact]
    public void A_clean_run_has_no_caveats()
        => Assert.Empty(Examine(new RunSimulator { Times = [100, 50], Slowing = 0, SittingDeviation = 0.001 }.Make(1)).Caveats);

    public static TheoryData<string, RunSimulator> Spoilt => new()
    {
        { "unoptimised-build", new() { Environment = new() { Runtime = "x", Architecture = "x64", UnoptimizedAssemblies = ["Lamps"] } } },
        { "debugger-attached",
            new() { Environment = new() { Runtime = "x", Architecture = "x64", IsOptimized = true, IsDebuggerAttached = true } } },
        { "few-sittings", new() { Sittings = 3 } },
        { "cut-short", new() { State = RunState.Interrupted } },
        { "coarse", new() { SittingDeviation = 0.05 } },
        { "below-residue", new() { Times = [100, 0.01] } },
        { "not-settled", new() { IsSettled = false } },
        { "guessed-ahead", new() { Loop = new() { Result = ResultKind.YesOrNo } } },
        { "near-residue", new() { Times = [5, 4], Loop = new() { Path = CallPath.Delegate } } },
    };

    [Theory]
    [MemberData(nameof(Spoilt))]
    public void A_spoilt_run_has_the_caveat_that_fits(string name, RunSimulator simulator)
    {
        var caveat = Assert.Single(Examine(simulator.Make(3)).Caveats.Where(caveat => caveat.Name == name).Take(1));

        Assert.NotEmpty(caveat.Evidence);
        Assert.NotEmpty(caveat.WayOut);
    }

    [Fact]
    public void Bytes_per_call_are_those_of_the_middle_reading_and_not_what_the_runtime_allocated_beside_a_few()
    {
        var run = new RunSimulator().Make(1);
        var sittings = run.Studies[0].Sittings.Select(sitting => sitting with
        {
            Readings = [.. sitting.Readings.Select((reading, index) => index % 12 == 5
                ? reading with { AllocatedBytes = reading.AllocatedBytes + 8_192 }
                : reading)],
        });

        var cells = Examine(run with { Studies = [run.Studies[0] with { Sittings = [.. sittings] }] }).Inputs[0].Cells;

        Assert.Equal(Examine(run).Inputs[0].Cells.Select(cell => cell.AllocatedBytesPerCall),
            cells.Select(cell => cell.AllocatedBytesPerCall));
        Assert.All(cells, cell => Assert.True(cell.Signals.AllocatedBytes > cell.AllocatedBytesPerCall * cell.Signals.Calls));
    }

    [Fact]
    public void Interrupted_and_compiled_readings_are_counted_and_told()
    {
        var run = new RunSimulator().Make(1);
        var sittings = run.Studies[0].Sittings.Select(sitting => sitting with
        {
            Readings = [.. sitting.Readings.Select(reading => reading with { ProcessorNanoseconds = reading.ElapsedNanoseconds * 2 / 3,
                CompiledMethods = reading.Round % 2 })],
        });
        var spoilt = run with { Studies = [run.Studies[0] with { Sittings = [.. sittings] }] };

        var findings = Examine(spoilt);

        Assert.Contains(findings.Caveats, caveat => caveat.Name == "interrupted"
            && caveat.Evidence.Contains("100 %", StringComparison.Ordinal));
        Assert.Contains(findings.Caveats, caveat => caveat.Name == "compiled-while-read");
        Assert.Equal(findings.Inputs[0].Cells[0].Signals.Readings, findings.Inputs[0].Cells[0].Signals.Interrupted);
    }

    [Fact]
    public void A_machine_whose_speed_differs_between_sittings_is_told_and_corrected()
    {
        var run = new RunSimulator { Slowing = 0, SittingDeviation = 0.0005 }.Make(1);
        var sittings = run.Studies[0].Sittings.Select((sitting, index) => sitting with
        {
            Readings = [.. sitting.Readings.Select(reading
                => reading with { ElapsedNanoseconds = (long)(reading.ElapsedNanoseconds * (1 + (0.05 * index))) })],
        });

        var findings = Examine(run with { Studies = [run.Studies[0] with { Sittings = [.. sittings] }] });

        Assert.Contains(findings.Caveats, caveat => caveat.Name == "speed-changed");
        var time = findings.Inputs[0].Cells[0].NanosecondsPerCall;
        Assert.InRange(time.HalfWidth / time.Estimate, 0, 0.005);
    }

    [Fact]
    public void What_mostly_waits_is_not_corrected_by_the_speed_of_the_processor()
    {
        var run = new RunSimulator { Slowing = 0, SittingDeviation = 0, ReadingDeviation = 0, OutlierShare = 0 }.Make(1);
        var sittings = run.Studies[0].Sittings.Select((sitting, index) => sitting with
        {
            Readings = [.. sitting.Readings.Select(reading => sitting.Cells[reading.Cell].Kind == CellKind.Metronome
                ? reading with { ElapsedNanoseconds = (long)(reading.ElapsedNanoseconds * (1 + (0.1 * index))) }
                : reading with { ProcessorNanoseconds = reading.ElapsedNanoseconds / 10 })],
        });

        var findings = Examine(run with { Studies = [run.Studies[0] with { Sittings = [.. sittings] }] });

        Assert.Equal(100, findings.Inputs[0].Cells[0].NanosecondsPerCall.Estimate, 6);
        Assert.True(findings.Inputs[0].Cells[0].Signals.IsMostlyWaiting);
        Assert.DoesNotContain(findings.Caveats, caveat => caveat.Name == "interrupted");
    }

    // Whoever never leaves the processor of its own accord took what it had of one: here half of every reading.
    [Theory]
    [InlineData(0.0, 0, 100)]
    [InlineData(0.0, 2_000_000, 120)]
    [InlineData(1.0, 0, 200)]
    [InlineData(null, 0, 200)]
    public void What_others_held_the_processor_for_is_not_counted_where_nothing_waits_by_itself(
        double? waitsPerCall, long pause, double nanoseconds)
    {
        var run = Altered(new RunSimulator { Slowing = 0, SittingDeviation = 0, ReadingDeviation = 0, OutlierShare = 0 }.Make(1),
            (sitting, reading) => sitting.Cells[reading.Cell].Kind is CellKind.Metronome or CellKind.Identity ? reading : reading with
            {
                ElapsedNanoseconds = reading.ElapsedNanoseconds * 2, ProcessorNanoseconds = reading.ElapsedNanoseconds,
                PauseNanoseconds = pause,
            },
            sitting => sitting with { WarmUps = [.. sitting.WarmUps.Select(warm => warm with { WaitsPerCall = waitsPerCall })] });

        var findings = Examine(run);
        var cell = findings.Inputs[0].Cells[1];

        Assert.Equal(nanoseconds, cell.NanosecondsPerCall.Estimate, 1.0);
        Assert.Equal(100, cell.ProcessorNanosecondsPerCall, 1.0);
        Assert.Contains(findings.Caveats, caveat => caveat.Name == "interrupted");
        Assert.DoesNotContain(findings.Caveats, caveat => waitsPerCall == 0 && caveat.Name == "sleeps");
    }

    [Fact]
    public void Collections_exceptions_waits_processor_time_and_first_calls_come_out_per_call()
    {
        var run = Altered(
            new RunSimulator { Slowing = 0, SittingDeviation = 0, ReadingDeviation = 0, OutlierShare = 0 }.Make(1),
            (sitting, reading) => sitting.Cells[reading.Cell].Kind != CellKind.Variant ? reading : reading with
            {
                CollectionsGen0 = 3, CollectionsGen1 = 1, PauseNanoseconds = 200_000, LockContentions = 50, IsCollectionHeld = false,
                    CompiledMethods = 1,
                ProcessorNanoseconds = reading.ElapsedNanoseconds * 2,
            },
            sitting => sitting with
            {
                WarmUps = [.. sitting.WarmUps.Select(warm => warm with
                {
                    ExceptionsPerCall = 0.05, FirstCallNanoseconds = 5_000, CallsUntilFast = 90, MillisecondsUntilFast = 12,
                    Curve = [new() { Calls = 1, Milliseconds = 1, NanosecondsPerCall = 5_000, AllocatedBytesPerCall = 900 },
                        new() { Calls = 2, Milliseconds = 1, NanosecondsPerCall = 400, AllocatedBytesPerCall = 64 }],
                })],
            });
        var diagnosed = run with { Studies = [run.Studies[0] with { Diagnoses = [new() { Variant = 1, Input = 0,
            FirstCallNanoseconds = [7_000, 9_000, 8_000], RetainedBytes = 40,
            AllocatedTypes = [new() { Type = "Lamp", Samples = 9 }] }] }] };

        var findings = Examine(diagnosed);
        var cell = findings.Inputs[0].Cells[1];

        Assert.Equal([20, 10, 0], cell.Collections!.PerMillionCalls.Select(count => Math.Round(count, 6)));
        Assert.Equal(2, cell.Collections.PauseNanosecondsPerCall, 6);
        Assert.Equal(0, cell.Collections.HeldShare);
        Assert.Equal(0.0005, cell.LockContentionsPerCall, 9);
        Assert.Equal(200, cell.ProcessorNanosecondsPerCall, 3);
        Assert.Equal(0.05, cell.ExceptionsPerCall, 9);
        Assert.Equal((8_000, 5_000, 90, 12, 64),
            (cell.WarmUp!.ColdCallNanoseconds, cell.WarmUp.FirstCallNanoseconds, cell.WarmUp.CallsUntilFast,
                cell.WarmUp.MillisecondsUntilFast, cell.WarmUp.AllocatedBytesPerCallBefore));
        Assert.Equal((40.0, "Lamp"), (cell.RetainedBytes, cell.AllocatedTypes[0].Type));
        Assert.Contains(findings.Caveats, caveat => caveat.Name == "collector-came-in");
        Assert.Contains(findings.Caveats, caveat => caveat.Name == "compiles-itself");
        Assert.DoesNotContain(findings.Caveats, caveat => caveat.Name == "compiled-while-read");
    }

    [Fact]
    public void Stages_get_their_share_with_the_cost_of_their_marks_taken_out()
    {
        // 1,000 calls of 100 ns; an outer stage of 80 ns with two inner ones of 15 ns each; a mark costs 30 ns inside and 20 outside.
        var run = Altered(new RunSimulator { Slowing = 0, SittingDeviation = 0, ReadingDeviation = 0, OutlierShare = 0 }.Make(1),
            (_, reading) => reading, sitting => sitting with
        {
            StageCosts = [new() { Worker = 1, InsideNanoseconds = 900, OutsideNanoseconds = 900, UnreadNanoseconds = 1 },
                new() { InsideNanoseconds = 30, OutsideNanoseconds = 20, UnreadNanoseconds = 1 }],
            StageReadings = [new()
            {
                Cell = Enumerable.Range(0, sitting.Cells.Count)
                    .First(cell => sitting.Cells[cell] is { Kind: CellKind.Variant, Variant: 1 }), Calls = 1_000,
                    ElapsedNanoseconds = 250_000,
                Stages = [new() { Stage = "outer", Count = 1_000, CountInside = 2_000, ElapsedNanoseconds = 210_000 },
                    new() { Stage = "outer › inner", Count = 2_000, ElapsedNanoseconds = 90_000 }],
            }],
        });

        var stages = Examine(run).Inputs[0].Cells[1].Stages;

        Assert.Equal(["outer", "outer › inner"], stages.Select(stage => stage.Stage));
        Assert.Equal([0.8, 0.3], stages.Select(stage => Math.Round(stage.Share.Estimate, 9)));
        Assert.Equal([80, 30], stages.Select(stage => Math.Round(stage.NanosecondsPerCall.Estimate, 2)));
        Assert.Equal([1, 2], stages.Select(stage => stage.CountPerCall));
    }

    [Fact]
    public void Threads_are_compared_with_as_many_and_sped_up_against_one()
    {
        var run = new RunSimulator { Times = [100, 150, 50, 50], Bytes = new long[4], Slowing = 0, SittingDeviation = 0,
            ReadingDeviation = 0, OutlierShare = 0 }.Make(1);
        VariantDescription Row(string name, bool isBaseline, int threads)
            => new() { Name = $"{name}, {threads}", Variant = name, IsBaseline = isBaseline, Loop = new() { Threads = threads } };
        var study = run.Studies[0].Study with { Variants = [Row("a", true, 1), Row("a", true, 2), Row("b", false, 1), Row("b", false, 2)] };

        var cells = Examine(run with { Studies = [run.Studies[0] with { Study = study }] }).Inputs[0].Cells;

        Assert.Equal([0.5, 0.3333], new[] { cells[2], cells[3] }.Select(cell => Math.Round(cell.Contrast!.TimeRatio.Estimate, 4)));
        Assert.Null(cells[1].Contrast);
        Assert.Equal([1, 1.3333, 1, 2], cells.Select(cell => Math.Round(cell.Threads!.SpeedUp!.Value.Estimate, 4)));
        Assert.Equal(2e9 / 150, cells[1].Threads!.CallsPerSecond.Estimate, 0);
    }

    [Fact]
    public void Declared_work_gives_rates_and_shares_of_the_limit_of_the_level_it_fits_in()
    {
        var run = new RunSimulator { Slowing = 0, SittingDeviation = 0, ReadingDeviation = 0, OutlierShare = 0 }.Make(1);
        var study = run.Studies[0].Study with { Inputs = [new() { Label = "x",
            Work = new() { Items = 10, Bytes = 50_000, Operations = 200 } }] };
        var limits = new MachineLimits
        {
            Machine = run.Machine, Measured = DateTimeOffset.UnixEpoch, OperationsPerSecond = 8e9,
            Memory = [new("L1", 48_000, 2e12), new("L2", 2_000_000, 1e12), new("memory", null, 1e10)],
        };

        var rates = Examine(run with { Limits = limits, Studies = [run.Studies[0] with { Study = study }] }).Inputs[0].Cells[0].Rates;

        Assert.Equal(["items", "bytes", "operations"], rates.Select(rate => rate.Quantity));
        Assert.Equal([1e8, 5e11, 2e9], rates.Select(rate => Math.Round(rate.PerSecond.Estimate)));
        Assert.Equal([(null, null), ("L2", 0.5), ("arithmetic", 0.25)],
            rates.Select(rate => (rate.Limit, rate.LimitShare is { } share ? Math.Round(share.Estimate, 6) : (double?)null)));
    }

    [Fact]
    public void Precision_asks_every_contrast()
    {
        var findings = Examine(new RunSimulator { Times = [100, 50, 20], Bytes = new long[3] }.Make(1));
        var widest = findings.Inputs[0].Cells.Skip(1).Max(cell => cell.Contrast!.TimeRatio.Through(Math.Log).HalfWidth);

        Assert.True(findings.IsPrecise(Math.Exp(widest) - 1 + 1e-9));
        Assert.False(findings.IsPrecise(Math.Exp(widest) - 1 - 1e-9));
    }

    [Fact]
    public void What_is_known_well_enough_is_decided_by_width_alone_and_what_more_it_takes_goes_with_its_square()
    {
        var findings = Examine(new RunSimulator { Times = [100, 20, 100.2, 101], Bytes = new long[4], SittingDeviation = 0.01,
            Rounds = 40 }.Make(2));
        double Reach(int cell) => findings.Inputs[0].Cells[cell].Contrast!.TimeRatio.Through(Math.Log).HalfWidth;

        // Five times as fast is known to a tenth of that; a difference of nothing or of one per cent is not known to half a per cent.
        Assert.Equal([(1, 0)], findings.Decided(null));
        Assert.Equal(3, findings.Decided(0.2).Count);
        Assert.Empty(findings.Decided(1e-6));
        var widest = Enumerable.Range(1, 3).Max(Reach);
        Assert.Equal(findings.Sittings * 4, findings.SittingsNeeded(Math.Exp(widest / 2) - 1)!.Value, 1.0);
        Assert.Null(Examine(new RunSimulator { Sittings = 1 }.Make(1)).SittingsNeeded(0.01));
    }

    [Fact]
    public void More_sittings_are_worth_their_time_where_half_of_the_contrasts_or_more_are_wide()
    {
        int? Worth(RunSimulator simulator)
        {
            var run = simulator.Make(3);
            return TargetAnalyst.Examine(run, run.Studies[0], AnalysisOptions.Default).SittingsWorth;
        }

        var calm = new RunSimulator { Times = [100, 98, 60], Bytes = new long[3], SittingDeviation = 1e-3, Rounds = 30 };
        Assert.InRange(Worth(calm)!.Value, 0, calm.Sittings);
        Assert.True(Worth(calm with { SittingDeviation = 0.05 }) > 2 * calm.Sittings);
        // What is a tenth of the time need not be known to as many per cent.
        Assert.InRange(Worth(calm with { Times = [100, 10], Bytes = new long[2], SittingDeviation = 0.02 })!.Value, 0, calm.Sittings);
        // ± 6 % are enough of twice as fast, and not of a difference that is smaller itself.
        var wide = calm with { Bytes = new long[2], SittingDeviation = 0.04 };
        Assert.InRange(Worth(wide with { Times = [100, 50] })!.Value, 0, calm.Sittings);
        Assert.True(Worth(wide with { Times = [100, 90] }) > calm.Sittings);
        // One of two is half of them; one of three is not.
        Assert.True(Worth(calm with { Unrest = [1, 1, 50] }) > calm.Sittings);
        Assert.InRange(Worth(calm with { Times = [100, 98, 60, 70], Bytes = new long[4], Unrest = [1, 1, 1, 50] })!.Value, 0,
            calm.Sittings);
        Assert.Null(Worth(calm with { Sittings = 1 }));
        Assert.Equal(0, Worth(calm with { Times = [100], Bytes = new long[1] }));
    }

    [Fact]
    public void Cells_that_rest_in_most_rounds_are_compared_in_those_they_take_part_in()
    {
        var run = new RunSimulator { Times = [100, 50, 70], Bytes = new long[3], Slowing = 0.2, SittingDeviation = 0, ReadingDeviation = 0,
            OutlierShare = 0 }.Make(1);
        var resting = run with
        {
            Studies = [run.Studies[0] with
            {
                Sittings = [.. run.Studies[0].Sittings.Select(sitting => sitting with
                {
                    Readings = [.. sitting.Readings.Where(reading => sitting.Cells[reading.Cell] is not { Kind: CellKind.Variant,
                        Variant: 1 } || reading.Round % 4 == 0)],
                })],
            }],
        };

        var cells = Examine(resting).Inputs[0].Cells;

        Assert.Equal([0.5, 0.7], cells.Skip(1).Select(cell => Math.Round(cell.Contrast!.TimeRatio.Estimate, 4)));
    }

    [Fact]
    public void Repeats_are_read_together_and_each_by_itself()
    {
        var run = new RunSimulator { Times = [100, 50], SittingDeviation = 0.001 }.Make(1);
        var twice = run with { Studies = [run.Studies[0] with { Sittings = [.. run.Studies[0].Sittings,
            .. run.Studies[0].Sittings.Select(sitting => sitting with { Repeat = 2 })] }] };

        var contrast = Examine(twice).Inputs[0].Cells[1].Contrast!;

        Assert.Equal([1, 2], contrast.Repeats.Select(repeat => repeat.Repeat));
        Assert.All(contrast.Repeats,
            repeat => Assert.Equal((0.5, Verdict.Faster), (Math.Round(repeat.TimeRatio.Estimate, 2), repeat.Verdict)));
        Assert.True(contrast.TimeRatio.HalfWidth < contrast.Repeats[0].TimeRatio.HalfWidth);
        Assert.Empty(Examine(run).Inputs[0].Cells[1].Contrast!.Repeats);
    }

    [Fact]
    public void Options_that_make_no_sense_are_refused_together()
    {
        var exception = Assert.Throws<ArgumentException>(() =>
            Analyst.Examine(new RunSimulator().Make(1), new AnalysisOptions { IntervalLevel = 2, MarginShare = -1 }));

        Assert.Contains("IntervalLevel is 2", exception.Message, StringComparison.Ordinal);
        Assert.Contains("MarginShare is -1", exception.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Evidence_reads_the_same_in_a_culture_of_decimal_commas()
    {
        var run = new RunSimulator { SittingDeviation = 0.05 }.Make(1);
        var expected = Examine(run).Caveats;
        var before = CultureInfo.CurrentCulture;
        try
        {
            CultureInfo.CurrentCulture = new CultureInfo("de-DE");
            Assert.Equal(expected, Examine(run).Caveats);
        }
        finally
        {
            CultureInfo.CurrentCulture = before;
        }
    }

    private static Run Altered(Run run, Func<SittingRecord, Reading, Reading> reading, Func<SittingRecord, SittingRecord> sitting)
        => run with
        {
            Studies =
            [
                run.Studies[0] with
                {
                    Sittings = [.. run.Studies[0].Sittings.Select(taken
                        => sitting(taken with { Readings = [.. taken.Readings.Select(one => reading(taken, one))] }))],
                },
            ],
        };

    private static StudyFindings Examine(Run run) => Analyst.Examine(run, AnalysisOptions.Default)[0];
}
