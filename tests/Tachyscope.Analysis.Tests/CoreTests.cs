using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Machines;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>Figures by the moments in which the core was ours alone, and by copies of the code.</summary>
public sealed class CoreTests
{
    private static readonly RunSimulator Steady = new()
    {
        Times = [100, 98], SittingDeviation = 0, ReadingDeviation = 0, OutlierShare = 0, Slowing = 0, Rounds = 20, CallsPerReading = 500,
    };

    [Fact]
    public void Times_and_contrasts_are_those_of_quiet_moments_and_what_sharing_costs_stands_beside_them()
    {
        var findings = Examine(Steady with { SharedShare = 0.5, SharedFactors = [1.6, 1.2] });

        Assert.True(findings.Core.IsQuiet);
        Assert.InRange(findings.Core.QuietShare, 0.2, 0.8);
        Assert.Equal(100, findings.Inputs[0].Cells[0].NanosecondsPerCall.Estimate, 0.1);
        Assert.Equal(0.98, findings.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 0.001);
        Assert.Equal(1.6, findings.Inputs[0].Cells[0].SharedTimeRatio!.Value.Estimate, 0.01);
        Assert.Equal(1.2, findings.Inputs[0].Cells[1].SharedTimeRatio!.Value.Estimate, 0.01);
        Assert.DoesNotContain(findings.Caveats, caveat => caveat.Name == "core-shared");
    }

    // Beside others the machine is slower, and a run that met them often is no other run for it.
    [Theory]
    [InlineData(0.2)]
    [InlineData(0.8)]
    public void Times_of_a_quiet_core_are_stated_at_the_speed_of_one(double shared)
    {
        var run = (Steady with { SharedShare = shared, SharedFactors = [1, 1], Sittings = 8 }).Make(1);
        var findings = Analyst.Examine(run with { Studies = [run.Studies[0] with
        {
            Sittings = [.. run.Studies[0].Sittings.Select(SlowBesideOthers)],
        }] }, AnalysisOptions.Default)[0];

        Assert.True(findings.Core.IsQuiet);
        Assert.Equal(1, findings.NanosecondsPerLink, 0.001);
        Assert.Equal(shared > 0.5 ? 1.15 : 1, findings.Metronome.MedianNanosecondsPerLink, 0.001);
        Assert.Equal(100, findings.Inputs[0].Cells[0].NanosecondsPerCall.Estimate, 0.1);
    }

    // No sitting has both, and nothing within one tells what sharing costs.
    [Theory]
    [InlineData(1, 0.25)]
    [InlineData(2, 0.15)]
    public void Sittings_that_had_the_core_to_themselves_tell_what_the_others_take_beside_it(int quiet, double widest)
    {
        var simulator = Steady with
        {
            SharedShare = 0.5, SharedShareOf = number => number <= quiet ? 0 : 1, SharedFactors = [1.8, 1.2], SittingDeviation = 0.02,
        };
        var found = Enumerable.Range(1, 20).Select(seed => Analyst.Examine(simulator.Make(seed), AnalysisOptions.Default)[0]).ToList();

        Assert.All(found, findings =>
        {
            var time = findings.Inputs[0].Cells[0].NanosecondsPerCall;
            Assert.True(findings.Core is { IsQuiet: true, IsAdjusted: true });
            Assert.DoesNotContain(findings.Caveats, caveat => caveat.Name == "core-shared");
            Assert.InRange(time.Estimate, 90, 110);
            Assert.InRange(time.HalfWidth / time.Estimate, 0.005, widest);
            Assert.InRange(findings.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 0.9, 1.06);
        });
    }

    // What makes many calls takes less beside a shared core, where they are foreseen then only: told by their gauge, or not.
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Times_may_be_longer_beside_a_quiet_core(bool areCallsRead)
    {
        var simulator = new RunSimulator
        {
            SharedShare = 0.85, SharedFactors = [0.6, 1.2], CallCycles = areCallsRead ? (51, 10) : null, CallsPerReading = 500,
        };
        var times = Enumerable.Range(1, 60)
            .Select(seed => Analyst.Examine(simulator.Make(seed), AnalysisOptions.Default)[0].Inputs[0].Cells[0].NanosecondsPerCall)
            .Select(time => time.Estimate);

        Assert.InRange(times.Average() / 100, 0.97, 1.03);
    }

    // A variant that makes nearly nothing but calls, on a core that is shared most of the time: its quiet rounds are few and far off.
    [Theory]
    [InlineData(0.85)]
    [InlineData(0.95)]
    public void Contrasts_of_what_calls_hold_although_the_core_was_shared_most_of_the_time(double shared)
    {
        var simulator = new RunSimulator
        {
            Times = [100, 1_600], SharedShare = shared, SharedFactors = [1.4, 0.4], CallCycles = (51, 10), CallsPerReading = 500,
            Rounds = 20,
        };
        // Where nothing tells what it comes to beside a quiet core, that is said.
        var cells = Enumerable.Range(1, 200).Select(seed => Analyst.Examine(simulator.Make(seed), AnalysisOptions.Default)[0])
            .Where(findings => findings.Core.IsQuiet).Select(findings => findings.Inputs[0].Cells[1])
            .Where(cell => !cell.IsOfSharedCore).ToList();

        Assert.InRange(cells.Count, 20, 200);
        Assert.InRange(cells.Average(cell => cell.Contrast!.TimeRatio is { Lower: <= 16, Upper: >= 16 } ? 1.0 : 0), 0.9, 1);
    }

    [Fact]
    public void Calls_that_are_foreseen_tell_of_a_core_that_is_shared_lightly()
    {
        var simulator = Steady with { SharedShare = -0.3, CallCycles = (51, 10) };
        StudyFindings Faster(bool areForeseen)
        {
            var run = simulator.Make(1);
            return Analyst.Examine(run with
            {
                Studies = [run.Studies[0] with
                {
                    // Everything in the last fifteen rounds takes half as long; the gauge sees nothing of it.
                    Sittings = [.. run.Studies[0].Sittings.Select(sitting => sitting with
                    {
                        Readings = [.. sitting.Readings.Select(reading => reading.Round < 5
                            || sitting.Cells[reading.Cell].Kind != CellKind.Variant ? reading : Slower(reading, 1, 0.5))],
                        Gauges = [.. sitting.Gauges.Select(turn => turn.Round < 5 || !areForeseen ? turn
                            : turn with { CallGauge = 3_000 })],
                    })],
                }],
            }, AnalysisOptions.Default)[0];
        }

        var (found, blind) = (Faster(areForeseen: true), Faster(areForeseen: false));

        Assert.Equal((0.25, 1), (Math.Round(found.Core.QuietShare, 9), blind.Core.QuietShare));
        Assert.Equal(100, found.Inputs[0].Cells[0].NanosecondsPerCall.Estimate, 0.1);
        Assert.Equal(50, blind.Inputs[0].Cells[0].NanosecondsPerCall.Estimate, 0.5);
        Assert.Equal((51, true), (Math.Round(found.Core.Calls.QuietCycles), found.Core.Calls.AreUnforeseenWhenQuiet));
    }

    [Fact]
    public void Without_a_quiet_moment_all_readings_count_and_that_is_said()
    {
        var findings = Examine(Steady with { SharedShare = 1.3, SharedFactors = [1.6, 1.6] });

        Assert.True(findings.Core is { IsKnown: true, IsQuiet: false, QuietShare: 0 });
        Assert.Equal(0.98, findings.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 0.001);
        Assert.Equal(160, findings.Inputs[0].Cells[0].NanosecondsPerCall.Estimate, 0.2);
        Assert.Contains(findings.Caveats, caveat => caveat.Name == "core-shared");
    }

    // Where others come and go within a reading, as often as not, a gauge that is quiet before and after it is chance. A long reading is
    // told by the share of its gauges.
    [Theory]
    [InlineData(0.75, 500, false)]
    [InlineData(0.75, 100_000, true)]
    [InlineData(0.1, 500, true)]
    public void Quiet_gauges_tell_nothing_of_readings_within_which_others_come_and_go(double shared, int calls, bool areBelieved)
    {
        var findings = Examine(Steady with
        {
            SharedShare = shared, SharedFactors = [1.6, 1.6], IsSharedInBursts = true, CallsPerReading = calls,
        });

        Assert.Equal(areBelieved, findings.Core.IsQuiet);
        Assert.Equal(areBelieved, findings.Core.QuietShare > 0);
        Assert.Equal(!areBelieved, findings.Caveats.Any(caveat => caveat.Name == "core-shared"));
    }

    // All sittings but one are shared throughout: what it tells of the others holds, and is as wide as one sitting knows it. Of twelve it
    // counts too, although the outermost value is left out of their mean.
    [Theory]
    [InlineData(6)]
    [InlineData(12)]
    public void What_a_single_sitting_tells_of_a_quiet_core_holds_for_all(int sittings)
    {
        var simulator = new RunSimulator { Times = [100, 300], SharedShare = 0.7, SharedFactors = [0.6, 1.2], CallCycles = (51, 10),
            CallsPerReading = 500, Rounds = 40, Sittings = sittings };
        var found = Enumerable.Range(1, 200).Select(seed =>
        {
            var (shared, mixed) = ((simulator with { SharedShare = 1.3 }).Make(seed), simulator.Make(seed + 1_000));
            return Analyst.Examine(shared with
            {
                Studies = [shared.Studies[0] with { Sittings = [mixed.Studies[0].Sittings[0], .. shared.Studies[0].Sittings.Skip(1)] }],
            }, AnalysisOptions.Default)[0];
        }).Where(findings => findings.Core.IsAdjusted && findings.Inputs[0].Cells.All(cell => !cell.IsOfSharedCore))
            .Select(findings => findings.Inputs[0].Cells[1].Contrast!.TimeRatio).ToList();

        Assert.InRange(found.Count, 100, 200);
        Assert.Equal(3, found.Average(ratio => ratio.Estimate), 0.1);
        Assert.InRange(found.Average(ratio => ratio is { Lower: <= 3, Upper: >= 3 } ? 1.0 : 0), 0.95, 1);
    }

    // Each of the two finds the core quiet in a sitting of its own, so that both times are known, and no round tells of their ratio.
    [Fact]
    public void A_contrast_is_of_the_state_that_its_times_are_of()
    {
        var run = (Steady with { SharedShare = -0.3, SharedFactors = [1, 1], Sittings = 12 }).Make(3);
        var sittings = run.Studies[0].Sittings.Select((sitting, index) => Alone(
            Alone(sitting, 0, round => index == 0 && round % 2 == 0, 1.5), 1, round => index == 1 && round % 2 == 0, 1.2));
        var cells = Analyst.Examine(run with { Studies = [run.Studies[0] with { Sittings = [.. sittings] }] },
            AnalysisOptions.Default)[0].Inputs[0].Cells;

        Assert.All(cells, cell => Assert.False(cell.IsOfSharedCore));
        Assert.Equal(100, cells[0].NanosecondsPerCall.Estimate, 5.0);
        Assert.Equal(98, cells[1].NanosecondsPerCall.Estimate, 5.0);
        Assert.Equal(0.98, cells[1].Contrast!.TimeRatio.Estimate, 0.05);
    }

    // One of three finds it quiet: beside the others' times its own would be of another state.
    [Fact]
    public void A_study_most_of_whose_cells_met_no_quiet_core_is_told_as_it_was_read()
    {
        var run = (Steady with { Times = [100, 98, 97], Bytes = [0, 0, 0], SharedShare = -0.3, SharedFactors = [1, 1, 1] }).Make(3);
        var sittings = run.Studies[0].Sittings.Select(sitting => Alone(Alone(sitting, 1, _ => false, 1.2), 2, _ => false, 1.2));
        var findings = Analyst.Examine(run with { Studies = [run.Studies[0] with { Sittings = [.. sittings] }] },
            AnalysisOptions.Default)[0];

        Assert.False(findings.Core.IsQuiet);
        Assert.Equal(1.176, findings.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 0.01);
    }

    // Who uses half of the core lets calls be foreseen, and does nothing more; who uses all of it slows what calls and what computes.
    [Fact]
    public void What_half_of_a_core_and_all_of_it_cost_is_told_apart_where_calls_are_foreseen_then()
    {
        var simulator = new RunSimulator { Times = [100, 90], SharedShare = 0.9, HalfSharedFactors = [0.7, 1.05],
            SharedFactors = [0.8, 1.3], CallCycles = (56, 20), CallsPerReading = 500, Rounds = 40, Sittings = 10 };
        var found = Enumerable.Range(1, 100).Select(seed => Analyst.Examine(simulator.Make(seed), AnalysisOptions.Default)[0])
            .Where(findings => findings.Core is { IsQuiet: true, IsAdjusted: true }).ToList();
        var ratios = found.ConvertAll(findings => findings.Inputs[0].Cells[1].Contrast!.TimeRatio);

        Assert.InRange(found.Count, 50, 100);
        Assert.Equal(0.9, ratios.Average(ratio => ratio.Estimate), 0.02);
        Assert.InRange(ratios.Average(ratio => ratio is { Lower: <= 0.9, Upper: >= 0.9 } ? 1.0 : 0), 0.9, 1);
    }

    // The second variant finds the core quiet in one round of the first sittings only; or is called a hundred times as often besides.
    [Theory]
    [InlineData(0, 1, 117.6, true)]
    [InlineData(1, 1, 117.6, true)]
    [InlineData(2, 1, 98, false)]
    [InlineData(6, 1, 98, false)]
    [InlineData(1, 100, 117.6, true)]
    [InlineData(2, 100, 98, false)]
    public void What_has_few_quiet_rounds_is_brought_to_them_by_what_two_sittings_tell(
        int sittings, int calls, double nanoseconds, bool isTold)
    {
        var findings = Alone((sitting, round) => sitting < sittings && round == 0, calls);
        var cell = findings.Inputs[0].Cells[1];

        Assert.True(findings.Core.IsQuiet);
        Assert.Equal(!isTold, findings.Core.IsAdjusted);
        Assert.Equal(isTold, cell.IsOfSharedCore);
        Assert.Equal(nanoseconds, cell.NanosecondsPerCall.Estimate, 1.0);
        Assert.Equal(nanoseconds / 100, cell.Contrast!.TimeRatio.Estimate, 0.01);
        Assert.Equal(isTold, findings.Caveats.Any(caveat => caveat is { Name: "core-shared", Subject: "v1, a lamp" }));
    }

    // Some of the processes take ten times as long as the others.
    [Fact]
    public void A_time_brought_to_a_quiet_core_stays_where_its_sittings_found_it()
    {
        var runs = Enumerable.Range(1, 60).Select(seed => (Steady with
        {
            Times = [100, 100], SharedShare = 0.85, SharedFactors = [1.5, 1.6], ReadingDeviation = 0.05, Sittings = 8,
            SittingDeviation = 0.1, SecondSpeeds = [(0, 1), (0.25, 10)],
        }).Make(seed)).ToList();
        var found = runs.ConvertAll(run => Analyst.Examine(run, AnalysisOptions.Default)[0]);
        // Readings as they came, most of which took 1.6 times as long.
        var ratios = found.Zip(runs, (findings, run) => findings.Inputs[0].Cells[1].NanosecondsPerCall.Estimate
            / run.Studies[0].Sittings.Average(sitting => sitting.Readings
                .Where(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 })
                .Average(reading => reading.ElapsedNanoseconds / (double)reading.Calls))).ToList();

        Assert.InRange(found.Count(findings => findings.Core.IsAdjusted), 10, 60);
        Assert.All(ratios, ratio => Assert.InRange(ratio, 0.5, 1));
        Assert.InRange(ratios.Average(), 0.62, 0.74);
    }

    [Fact]
    public void A_sitting_that_is_shared_all_the_time_does_not_count_beside_others_that_never_are()
    {
        var findings = Alone((sitting, _) => sitting > 0);
        var cell = findings.Inputs[0].Cells[1];

        Assert.False(findings.Core.IsAdjusted);
        Assert.False(cell.IsOfSharedCore);
        Assert.Equal(98, cell.NanosecondsPerCall.Estimate, 0.1);
        Assert.Equal(0.98, cell.Contrast!.TimeRatio.Estimate, 0.001);
        Assert.True(cell.Contrast.TimeRatio.HalfWidth < 0.001);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public void A_sitting_of_few_rounds_all_of_them_quiet_is_not_said_to_be_shared(int rounds)
    {
        var findings = Examine(Steady with { SharedShare = -0.3, Rounds = rounds });

        Assert.True(findings.Core is { IsQuiet: true, QuietShare: 1 });
        Assert.Equal(0.98, findings.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 0.001);
        Assert.DoesNotContain(findings.Caveats, caveat => caveat.Name == "core-shared");
    }

    [Fact]
    public void Files_without_a_gauge_are_read_as_they_were()
    {
        var findings = Examine(Steady);

        Assert.False(findings.Core.IsKnown);
        Assert.Equal(0.98, findings.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 0.001);
        Assert.Null(findings.Inputs[0].Cells[1].SharedTimeRatio);
    }

    // One copy in four is half as slow again, not always the same: the mean over copies, where rounds of all in one heap would hide it.
    [Fact]
    public void A_sittings_value_is_the_mean_over_copies_of_the_middle_of_each()
    {
        var run = OfCopies((Steady with { Copies = 4, Rounds = 40 }).Make(1), copy => copy == 0 ? 49 : 0, turning: true);

        var findings = Analyst.Examine(run, AnalysisOptions.Default)[0];

        Assert.Equal(4, findings.Copies);
        Assert.Equal(98 + (49 / 4.0), findings.Inputs[0].Cells[1].NanosecondsPerCall.Estimate, 0.1);
        Assert.Equal(0.98 * Math.Pow(1.5, 0.25), findings.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 0.001);
    }

    // What the framework optimised for the first copy serves the others badly.
    [Fact]
    public void Copies_that_are_slower_than_the_first_tell_of_something_else_and_are_left_out()
    {
        var run = OfCopies((Steady with { Copies = 4, Rounds = 40, SittingDeviation = 0.02 }).Make(1), copy => copy > 0 ? 1_078 : 0);

        var findings = Analyst.Examine(run, AnalysisOptions.Default)[0];
        var early = Analyst.Examine(
            run with { Studies = [run.Studies[0] with { Sittings = [run.Studies[0].Sittings[0]] }] }, AnalysisOptions.Default)[0];

        Assert.InRange(findings.Inputs[0].Cells[1].NanosecondsPerCall.Estimate, 92, 104);
        Assert.InRange(early.Inputs[0].Cells[1].NanosecondsPerCall.Estimate, 92, 104);
        var caveat = Assert.Single(findings.Caveats, caveat => caveat.Name == "copies-differ");
        Assert.Equal("v1, a lamp", caveat.Subject);
        Assert.Matches(@"takes 1[12]\.\d\d times as long as in the first", caveat.Evidence);
        Assert.Equal(1, findings.Copies);
    }

    [Fact]
    public void The_spread_is_told_by_its_level()
    {
        var simulator = Steady with
        {
            Rounds = 80, SittingDeviation = 0.05, ReadingDeviation = 0.01, Copies = 4, CopyDeviation = 0.03, Sittings = 30,
        };

        var spread = Examine(simulator).Inputs[0].Cells[1].Spread;

        // Of a ratio of two cells that both deviate, and of a turn's middle reading of three.
        Assert.InRange(spread.CopyShare, 0.034, 0.053);
        Assert.InRange(spread.SittingShare, 0.045, 0.105);
        Assert.InRange(spread.RoundShare, 0.005, 0.015);
    }

    [Fact]
    public void A_survey_tells_how_much_of_the_time_a_core_is_ours_and_for_how_long_at_a_stretch()
    {
        // Ten quiet, five shared, over and over; a single one that was thrown off ends no stretch.
        int[] gauges = [.. Enumerable.Range(0, 1_500).Select(at => at % 15 >= 10 ? 1_900 : at % 15 == 4 ? 1_600 : 1_250 + (at % 3))];
        var heard = new CoreHeard { Processor = 1, Gauges = gauges, Milliseconds = 1_500 };

        var (low, isSharp) = CoreNoise.LowOf([heard]);
        var core = CoreNoise.Of(heard, low);

        Assert.True(isSharp);
        Assert.Equal(9.0 / 15, core.QuietShare, 0.001);
        Assert.Equal(9, core.StretchMilliseconds, 0.001);
    }

    private static SittingRecord SlowBesideOthers(SittingRecord sitting)
    {
        var shared = sitting.Gauges.Where(gauge => gauge.Gauges.Max() > 1.15 * sitting.LowGauges[0])
            .Select(gauge => (gauge.Round, gauge.Place)).ToHashSet();
        return sitting with
        {
            Readings = [.. sitting.Readings.Select(reading
                => shared.Contains((reading.Round, reading.Place)) ? Slower(reading, 1, 1.15) : reading)],
        };
    }

    // The second variant is a fifth slower in rounds in which somebody else used the core.
    private static StudyFindings Alone(Func<int, int, bool> isQuiet, int calls = 1)
    {
        var run = (Steady with { SharedShare = -0.3, SharedFactors = [1, 1] }).Make(3);
        return Analyst.Examine(run with
        {
            Studies = [run.Studies[0] with
            {
                Sittings = [.. run.Studies[0].Sittings
                    .Select((sitting, index) => Alone(sitting, 1, round => isQuiet(index, round), 1.2, calls))],
            }],
        }, AnalysisOptions.Default)[0];
    }

    private static SittingRecord Alone(SittingRecord sitting, int variant, Func<int, bool> isQuiet, double factor, int calls = 1)
    {
        var cells = Enumerable.Range(0, sitting.Cells.Count)
            .Where(cell => sitting.Cells[cell].Kind == CellKind.Variant && sitting.Cells[cell].Variant == variant).ToHashSet();
        var own = sitting.Readings.Where(reading => cells.Contains(reading.Cell)).Select(reading => (reading.Round, reading.Place))
            .ToHashSet();
        return sitting with
        {
            Readings = [.. sitting.Readings.Select(reading => cells.Contains(reading.Cell)
                ? Slower(reading, calls, isQuiet(reading.Round) ? 1 : factor)
                : reading)],
            Gauges = [.. sitting.Gauges.Select(gauge => own.Contains((gauge.Round, gauge.Place)) && !isQuiet(gauge.Round)
                ? gauge with { Gauges = [.. gauge.Gauges.Select(_ => 2_000)] }
                : gauge)],
        };
    }

    private static Reading Slower(Reading reading, int calls, double factor) => reading with
    {
        Calls = reading.Calls * calls, ElapsedNanoseconds = (long)(reading.ElapsedNanoseconds * calls * factor),
        ProcessorNanoseconds = (long?)(reading.ProcessorNanoseconds * calls * factor),
    };

    // So many nanoseconds more of one variant in a copy; with the number of the sitting added to the copy's, where they are to take turns.
    private static Run OfCopies(Run run, Func<int, int> more, bool turning = false) => run with
    {
        Studies = [run.Studies[0] with
        {
            Sittings = [.. run.Studies[0].Sittings.Select(sitting => sitting with
            {
                Readings = [.. sitting.Readings.Select(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 } cell
                    ? Longer(reading, more(turning ? (cell.Copy + sitting.Number) % 4 : cell.Copy))
                    : reading)],
            })],
        }],
    };

    private static Reading Longer(Reading reading, int nanoseconds)
        => reading with { ElapsedNanoseconds = reading.ElapsedNanoseconds + (nanoseconds * reading.Calls) };

    private static StudyFindings Examine(RunSimulator simulator) => Analyst.Examine(simulator.Make(3), AnalysisOptions.Default)[0];
}
