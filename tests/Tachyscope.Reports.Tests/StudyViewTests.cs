using System.Runtime.CompilerServices;
using Spectre.Console;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Analysis.Tests;
using Tachyscope.Reports.Overviews;
using Tachyscope.Reports.Studies;
using Tachyscope.Reports.Terminal;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Tests;

public sealed class StudyViewTests
{
    [Theory]
    [InlineData(80)]
    [InlineData(125)]
    [InlineData(2_000)]
    public void The_view_is_as_approved(int width) => Approve(Shown(Report(), width), $"study-{width}.txt");

    [Theory]
    [InlineData(80)]
    [InlineData(2_000)]
    public void Further_figures_stages_and_types_are_as_approved(int width) => Approve(Shown(Rich(), width), $"figures-{width}.txt");

    [Theory]
    [InlineData(80)]
    [InlineData(125)]
    [InlineData(2_000)]
    public void Several_inputs_stand_in_one_table(int width)
        => Approve(Shown(Answers(AnalysisOptions.Default, ReportOptions.Default), width), $"overview-{width}.txt");

    [Theory]
    [InlineData(80)]
    [InlineData(2_000)]
    public void All_that_can_be_asked_for_is_as_approved(int width)
        => Approve(Shown(Answers(AnalysisOptions.Default, new() { Shown = Blocks.All }), width), $"answers-{width}.txt");

    [Fact]
    public void At_a_glance_a_study_takes_no_more_lines_than_its_variants_and_its_sentences()
    {
        var report = Answers(AnalysisOptions.Default, ReportOptions.Default);

        var lines = Shown(report, 200).TrimEnd().Split('\n');

        Assert.InRange(lines.Length, 1, report.Overview!.Rows.Count + report.Conclusion.Count + report.Doubts.Count + 1);
    }

    [Theory]
    [InlineData(Block.Growth, "growth over lamps")]
    [InlineData(Block.Dials, "over the best")]
    [InlineData(Block.Uses, "uses after which preparing has paid")]
    [InlineData(Block.Limits, "share used at most")]
    [InlineData(Block.Payoff, "a second a day from")]
    [InlineData(Block.Checks, "twin of the baseline")]
    [InlineData(Block.Ground, "Lamp")]
    [InlineData(Block.Inputs, "saved/call")]
    [InlineData(Block.Words, "grows as log n and")]
    public void A_block_is_shown_where_it_is_asked_for_and_nowhere_else(Block block, string sign)
    {
        var asked = Shown(Answers(AnalysisOptions.Default, new() { Shown = new HashSet<Block> { block } }), 2_000);
        var others = Shown(Answers(AnalysisOptions.Default, new()
        {
            Shown = Blocks.All.Where(other => other != block && (block, other) is not (Block.Words, Block.Growth)).ToHashSet(),
        }), 2_000);

        Assert.Contains(sign, asked, StringComparison.Ordinal);
        Assert.DoesNotContain(sign, others, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(ResultKind.YesOrNo, "note guessed-ahead: ", false)]
    [InlineData(ResultKind.WholeNumber, "caveat not-settled: ", true)]
    public void What_a_time_stands_for_is_noted_and_marks_no_cell_as_doubtful(ResultKind result, string line, bool isDoubted)
    {
        var run = new RunSimulator { Sizes = [16, 64], Rounds = 6, Slowing = 0, SittingDeviation = 0.001, Loop = new() { Result = result },
            IsSettled = !isDoubted }.Make(1);

        var report = StudyReporter.Report(run, Analyst.Examine(run, AnalysisOptions.Default)[0], null, ReportOptions.Default);

        Assert.All(report.Overview!.Rows.SelectMany(row => row.Cells), cell => Assert.Equal(isDoubted, cell!.IsDoubted));
        Assert.Contains(line, Shown(report, 2_000), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(0.3, false)]
    [InlineData(0.85, true)]
    public void That_readings_were_brought_to_a_core_of_ones_own_is_said(double sharedShare, bool isAdjusted)
    {
        var run = new RunSimulator { SharedShare = sharedShare, CallsPerReading = 500, Rounds = 24 }.Make(1);
        var found = TargetAnalyst.Examine(run, run.Studies[0], AnalysisOptions.Default);

        var report = StudyReporter.Report(run, found.Targets[0], null, new() { Shown = new HashSet<Block> { Block.Ground } });

        Assert.Equal(isAdjusted, found.Targets[0].Core.IsAdjusted);
        Assert.Equal(isAdjusted, report.Environment.Contains("of the readings, to which all were brought", StringComparison.Ordinal));
        Assert.Equal(isAdjusted, RunReporter.Ground(run, [found])[0]
            .Contains("of the readings, to which all were brought where they are few", StringComparison.Ordinal));
    }

    [Fact]
    public void A_study_told_of_a_shared_core_is_marked_among_others()
    {
        var simulator = new RunSimulator { SharedShare = 0.02, CallsPerReading = 500 };
        var run = simulator.Make(1);
        var shared = (simulator with { SharedShare = 1.3 }).Make(1).Studies[0];

        var summary = RunReporter.Summary([.. new[] { run.Studies[0], shared }
            .Select(study => TargetAnalyst.Examine(run, study, AnalysisOptions.Default))])!;

        Assert.Equal([false, true], summary.Rows.Select(row => row.Figures[^1].StartsWith("on a shared core", StringComparison.Ordinal)));
    }

    [Fact]
    public void A_chain_and_chosen_columns_are_as_approved()
        => Approve(
            Shown(Answers(new() { Against = Against.Previous },
                new() { Sort = SortOrder.Time,
                    Columns = ["factor", "bytes", "saved-time", "time", "collections", "verdict", "processor-time"] }), 80),
                    "chain-80.txt");

    [Fact]
    public void Every_pair_is_as_approved()
        => Approve(Shown(Answers(new() { Against = Against.Each }, ReportOptions.Default), 100), "each-100.txt");

    [Fact]
    public void What_differences_are_worth_is_as_approved()
    {
        var writer = new StringWriter();
        var findings = Answered(AnalysisOptions.Default).Findings;

        FigureView.Write(PayoffReporter.Report(findings, new() { CallsPerSecond = 2_000, Callers = 12, PricePerProcessorHour = 0.05 }),
            TerminalConsole.Plain(writer));
        FigureView.Write(PayoffReporter.Report(findings, null), TerminalConsole.Plain(writer));

        Approve(writer.ToString(), "payoff.txt");
    }

    [Theory]
    [InlineData(80)]
    [InlineData(93)]
    [InlineData(140)]
    [InlineData(200)]
    public void Nothing_is_wider_than_the_terminal_and_every_variant_can_be_told_from_the_others(int width)
    {
        var report = Answers(AnalysisOptions.Default, new() { Shown = new HashSet<Block> { Block.Inputs } });

        var lines = Shown(report, width).Split('\n');

        Assert.All(lines, line => Assert.InRange(line.GetCellWidth(), 0, width));
        var names = lines.SkipWhile(line => !line.EndsWith("· 16 lamps", StringComparison.Ordinal)).Skip(2)
            .TakeWhile(line => line.Length > 0).Select(line => line.Trim().Split("  ")[0]);
        Assert.Equal(names.Distinct(), names);
    }

    [Theory]
    [InlineData(80)]
    [InlineData(2_000)]
    public void Three_targets_are_as_approved(int width) => Approve(Shown(OnTargets(3, repeats: 1), width), $"targets-{width}.txt");

    [Fact]
    public void A_duel_with_repeats_is_as_approved() => Approve(Shown(OnTargets(2, repeats: 2), 200), "duel-200.txt");

    // The last target is slower, lacks a variant, and answers one otherwise; one of its switches could not be seen to act.
    private static StudyReport OnTargets(int count, int repeats)
    {
        var run = new RunSimulator { Times = [100, 50, 99], Bytes = [0, 24, 0],
            Slowness = [.. Enumerable.Range(0, count).Select(target => 1 + (0.5 * target))], SittingDeviation = 0.002, Rounds = 8 }.Make(1);
        var study = run.Studies[0];
        CellFailure[] failures =
        [
            new() { Variant = 2, Input = 0, Target = count - 1, Kind = CellFailureKind.Disagrees,
                Reason = "answers 5 where it answers 4 on t0" },
        ];
        bool IsThere(SittingRecord sitting, Reading reading)
            => sitting.Cells[reading.Cell] is not { Kind: CellKind.Variant, Variant: 2 } cell || cell.Target < count - 1;
        study = study with
        {
            Failures = failures,
            Sittings = [.. Enumerable.Range(1, repeats)
                .SelectMany(repeat => study.Sittings.Select(sitting => sitting with { Repeat = repeat,
                    Readings = [.. sitting.Readings.Where(reading => IsThere(sitting, reading))] }))],
        };
        run = run with
        {
            Plan = run.Plan with { Repeats = repeats },
            Studies = [study],
            Targets = [.. run.Targets.Select((target, index) => target with
            {
                Commit = $"{index}123456789abcdef", IsDirty = index == count - 1, Compiler = "5.0.0",
                    Environment = target.Environment with { Framework = "net10.0", VectorBits = 256 },
                Switches = index == 1 ? [new("TieredPGO", "0", true), new("JitNoInline", "1", false)] : [],
            })],
        };
        return StudyReporter.ReportTargets(run, TargetAnalyst.Examine(run, study, AnalysisOptions.Default), null, null).First();
    }

    [Fact]
    public void A_family_stands_side_by_side()
    {
        StudyFindings Member(string element, double nanoseconds) => new()
        {
            Study = new() { Name = $"sums of {element}", Family = "sums", Element = element, Agreement = "exactly", Inputs = [],
                Variants = [Cell("scan", default, 0, null).Variant, Cell("grid", default, 0, null).Variant] },
            Sittings = 6, Rounds = 9, Caveats = [],
            Inputs = [new() { Input = new() { Label = "9 levels" }, TwinTimeRatio = default, ResolutionShare = 0.001,
                Cells = [Cell("scan", new(nanoseconds, nanoseconds, nanoseconds, 0.95), 0, null),
                    Cell("grid", Interval.Unknown(0.95), 0, null)] }],
        };

        var table = Assert.Single(FamilyReporter.Report([Member("int", 20), Member("double", 40.5)]));

        Assert.Equal("sums · 9 levels, by element type", table.Title);
        Assert.Equal(["int", "double"], table.Headings);
        Assert.Equal([["20.0 ns", "40.5 ns"], ["–", "–"]], table.Rows.Select(row => row.Figures));
        Assert.Empty(FamilyReporter.Report([Member("int", 20)]));
    }

    [Theory]
    [InlineData(80)]
    [InlineData(100)]
    [InlineData(200)]
    public void No_line_of_a_table_is_wider_than_the_terminal(int width)
    {
        var lines = Shown(Report(), width).Split('\n');

        Assert.All(lines, line => Assert.InRange(line.GetCellWidth(), 0, width));
    }

    [Fact]
    public void The_survey_is_as_approved()
    {
        var beats = Enumerable.Range(0, 6_000)
            .Select(i => new Reading { Calls = 20_480, ElapsedNanoseconds = i is > 3_000 and < 3_500
                ? 25_000
                : 20_480, ProcessorNanoseconds = 20_480 });
        var survey = new MachineSurvey
        {
            Machine = new() { Processor = "Lamp 3000", ProcessorCount = 4, OperatingSystem = "Harbour 12" },
            Runtime = ".NET 10.0.0", VectorBits = 256, ClockStepNanoseconds = 20, ClockCostNanoseconds = 25.4, LoadAverage = 0.5,
                BusyShare = 0.31,
            Caches = [new() { Level = 1, Holds = "Data", SizeBytes = 49_152 }],
            Beats = [.. beats],
            LowGauge = 1_250,
            Cores = [new() { Processor = 2, Milliseconds = 500,
                Gauges = [.. Enumerable.Range(0, 100).Select(at => at < 60 ? 1_260 : 1_900)],
                CallGauges = [.. Enumerable.Range(0, 100).Select(at => at < 60 ? 17_000 : 3_300)] }],
            Limits = new() { Machine = new() { Processor = "Lamp 3000", ProcessorCount = 4, OperatingSystem = "Harbour 12" },
                Measured = DateTimeOffset.UnixEpoch, OperationsPerSecond = 9.6e10,
                Memory = [new("L1", 49_152, 2.1e11), new("memory", null, 1.2e10)] },
        };
        var writer = new StringWriter();

        SurveyView.Write(Machines.SurveyReporter.Report(survey), TerminalConsole.Plain(writer));

        Approve(writer.ToString(), "survey.txt");
    }

    [Theory]
    [InlineData(null, "10 cycles each on a shared core")]
    [InlineData(56.8, "10 cycles each on a shared core; an earlier run saw 57 cycles each on one of its own")]
    public void A_survey_that_met_no_quiet_core_says_what_calls_took_on_one_before(double? before, string told)
    {
        var survey = new MachineSurvey
        {
            Machine = new() { Processor = "Lamp 3000", ProcessorCount = 4, OperatingSystem = "Harbour 12" }, Runtime = ".NET 10.0.0",
            VectorBits = 256, ClockStepNanoseconds = 20, ClockCostNanoseconds = 25, Caches = [],
            Beats = [.. Enumerable.Range(0, 600).Select(_ => new Reading { Cell = 0, Calls = 1_000, ElapsedNanoseconds = 1_000 })],
            LowGauge = 1_250, QuietCallCycles = before,
            Cores = [new() { Processor = 0, Milliseconds = 30, Gauges = [.. Enumerable.Repeat(1_900, 100)],
                CallGauges = [.. Enumerable.Repeat(3_300, 100)] }],
        };
        var writer = new StringWriter();

        SurveyView.Write(Machines.SurveyReporter.Report(survey), TerminalConsole.Plain(writer));

        Assert.Matches($@"(?m)^ *virtual calls +{told}\r?$", writer.ToString());
    }

    // Each gauge takes 5 µs: of so many, the first are quiet.
    [Theory]
    [InlineData(1_000, 950, "needs no more than its usual time")]
    [InlineData(1_000, 300, "the cores are shared most of the time")]
    [InlineData(10, 3, "others come and go on every core faster than a reading lasts")]
    [InlineData(1_000, 20, "somebody else uses every core nearly all the time")]
    public void A_survey_says_what_the_cores_mean_for_a_run(int every, int quiet, string told)
    {
        var survey = new MachineSurvey
        {
            Machine = new() { Processor = "Lamp 3000", ProcessorCount = 4, OperatingSystem = "Harbour 12" }, Runtime = ".NET 10.0.0",
            VectorBits = 256, ClockStepNanoseconds = 20, ClockCostNanoseconds = 25, Caches = [],
            Beats = [.. Enumerable.Range(0, 600).Select(_ => new Reading { Cell = 0, Calls = 1_000, ElapsedNanoseconds = 1_000 })],
            LowGauge = 1_250,
            Cores = [new() { Processor = 0, Milliseconds = 30,
                Gauges = [.. Enumerable.Range(0, 6_000).Select(at => at % every < quiet ? 1_260 : 1_900)] }],
        };

        Assert.Contains(told, Machines.SurveyReporter.Report(survey).Advice, StringComparison.Ordinal);
    }

    [Fact]
    public void A_watcher_sees_study_inputs_sitting_share_and_time_left()
    {
        var writer = new StringWriter();
        var watched = new RunProgress
        {
            Study = "nearest beacon", Inputs = ["16 beacons", "256 beacons"], Stage = RunStage.Reading, Sitting = 3, SittingsPlanned = 6,
                ShareDone = 0.5, TimeLeft = TimeSpan.FromSeconds(9),
        };

        TerminalConsole.Plain(writer).Write(ProgressView.Line(watched));

        Assert.Contains("nearest beacon · 16 beacons, 256 beacons", writer.ToString(), StringComparison.Ordinal);
        Assert.Contains("━━━━━━━━━━━━────────────  50 %  sitting 3 of 6, reading  about 9 s left", writer.ToString(),
            StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(0.25, 0.5, 0.25, 1)]
    [InlineData(0.5, 4, 0.5, 4)]
    [InlineData(2, 8, 1, 8)]
    public void A_scale_of_factors_holds_the_baseline_and_equal_factors_are_equal_steps(double least, double most, double left,
        double right)
    {
        var scale = MarkScale.For([new(least, least, least), new(most, most, most)])!;

        Assert.Equal((left, right), (scale.Left, scale.Right));
        Assert.Equal(0.5, scale.Position(Math.Sqrt(left * right)), 9);
        Assert.Equal(scale.Baseline, scale.Position(1));
    }

    [Fact]
    public void What_is_hardly_apart_is_not_drawn_as_if_it_were_far()
        => Assert.Equal(1.02, MarkScale.For([new(0.999, 1, 1.001)]) is { } scale ? scale.Right / scale.Left : 0, 9);

    [Fact]
    public void Nothing_to_draw_is_no_scale() => Assert.Null(MarkScale.For([]));

    [Theory]
    [InlineData(125)]
    [InlineData(2_000)]
    public void Fourteen_studies_of_three_inputs_are_read_in_150_lines_and_end_in_one_table(int width)
    {
        string[] names = [.. Enumerable.Range(1, 14).Select(pier => $"count the lamps of pier {pier}")];
        var one = new RunSimulator { Sizes = [16, 256, 4_096], Times = [100, 50, 200, 99], Bytes = [64, 0, 24, 64], Rounds = 6,
            TimeAt = (variant, size) => ((double[])[100, 50, 200, 99])[variant] * size / 16 }.Make(5);
        var run = one with
        {
            Studies = [.. names.Select(name => one.Studies[0] with { Study = one.Studies[0].Study with { Name = name } })],
        };
        StudyOnTargets[] found = [.. run.Studies.Select(study => TargetAnalyst.Examine(run, study, AnalysisOptions.Default))];
        var writer = new StringWriter();
        var console = TerminalConsole.Plain(writer);
        console.Profile.Width = width;

        foreach (var (study, on) in run.Studies.Zip(found))
        {
            StudyView.Write(StudyReporter.ReportTargets(run, on, study.Note, null).Single(), console);
        }

        RunView.Write(run, found, console, isMoreTold: true);

        var lines = writer.ToString().TrimEnd().Split('\n');
        Assert.True(lines.Length <= 150, string.Join("\n", lines));
        var summary = lines.SkipWhile(line => line.Trim() != "all studies").Skip(2).Take(14).ToList();
        Assert.Equal(names, summary.Select(line => line.Trim().Split("  ")[0]));
        Assert.All(summary, line => Assert.Contains("  v1  ", line, StringComparison.Ordinal));
        Assert.All(summary, line => Assert.Contains("÷ 2.0", line, StringComparison.Ordinal));
        Assert.Contains("more with --show inputs,", lines[^1], StringComparison.Ordinal);
    }

    private static StudyReport Report()
    {
        var unsure = Interval.Unknown(0.95);
        var failure = new CellFailure { Variant = 3, Input = 0, Kind = CellFailureKind.Disagrees,
            Reason = "answers 3 where \"scan\" answers 4" };
        var study = new StudyDescription { Name = "nearest beacon", Agreement = "exactly", Inputs = [], Variants = [] };
        var findings = new StudyFindings
        {
            Study = study,
            Sittings = 6,
            Rounds = 360,
            Inputs =
            [
                new()
                {
                    Input = new() { Label = "256 beacons" }, TwinTimeRatio = unsure, ResolutionShare = 0.002,
                    Cells =
                    [
                        Cell("scan", new(367, 349, 385, 0.95), 0, null),
                        Cell("order and take first", new(727, 680, 774, 0.95), 192, Ratio(1.96, 1.79, 2.13, Verdict.Slower)),
                        Cell("grid", new(65, 57, 73, 0.95), 0, Ratio(0.182, 0.17, 0.194, Verdict.Faster)),
                        Cell("[sweep]", unsure, double.NaN, null) with { Failure = failure },
                        Cell("Leuchtfeuer nächst der Küste, in einer langen Zeile", new(366, 350, 382, 0.95), 1536,
                            Ratio(0.999, 0.99, 1.008, Verdict.Same)),
                        Cell("灯台", new(370, 300, 440, 0.95), 8, Ratio(1.01, 0.8, 1.2, Verdict.Unclear)),
                    ],
                },
            ],
            Caveats =
            [
                new() { Name = "not-settled", Subject = "scan, 256 beacons", Evidence = "still changing in 4 of 6 sittings",
                    WayOut = "look for state" },
                new() { Name = "not-settled", Subject = "grid, 256 beacons", Evidence = "still changing in 5 of 6 sittings",
                    WayOut = "look for state" },
            ],
        };
        var run = new Run
        {
            Tool = "test", Started = DateTimeOffset.UnixEpoch, State = RunState.Complete, Plan = new RunPlan { Seed = 7 },
            Machine = new() { Processor = "Lamp 3000", ProcessorCount = 2, OperatingSystem = "Harbour" },
            Environment = new() { Runtime = ".NET 10.0.0", Architecture = "x64", IsOptimized = true, Switches = ["DOTNET_TieredPGO=0"] },
            Studies = [],
        };
        return StudyReporter.Report(run, findings, "the precision asked for was not reached");
    }

    private static StudyReport Answers(AnalysisOptions analysis, ReportOptions shown)
    {
        var (run, findings) = Answered(analysis);
        return StudyReporter.Report(run, findings with { Caveats = [] }, null, shown);
    }

    // A scan that grows, an index that hardly does, one prepared once, and a dial with names that begin alike.
    private static (Run Run, StudyFindings Findings) Answered(AnalysisOptions analysis)
    {
        var simulator = new RunSimulator
        {
            Sizes = [16, 64, 256, 1_024], Rounds = 6, Slowing = 0, SittingDeviation = 0.004, Times = new double[7],
                Bytes = [0, 0, 9_000, 24, 0, 0, 0],
            TimeAt = (variant, size)
                => variant switch { 0 => 4 + size, 1 => 30 + (8 * Math.Log2(size)), 2 => 50 * size, 3 => 45, 4 => 200 + (0.5 * size),
                    5 => 90, _ => 90 + (0.2 * size) },
            Shape = study => study with
            {
                Rate = new() { CallsPerSecond = 500, Callers = 40 },
                Limits = [new() { Nanoseconds = 46, AllocatedBytes = 16, Variant = "灯台" },
                    new() { Nanoseconds = 5_000, Variant = "scan", Input = "1,024 lamps" }],
                Variants =
                [
                    study.Variants[0] with { Name = "scan", Variant = "scan" },
                    study.Variants[1] with { Name = "Leuchtfeuer, nächst der Küste", Variant = "Leuchtfeuer, nächst der Küste" },
                    study.Variants[2] with { Name = "灯台: prepare", Variant = "灯台", Part = VariantPart.Prepare },
                    study.Variants[3] with { Name = "灯台: use", Variant = "灯台", Part = VariantPart.Use },
                    .. ((int[])[4, 8, 16])
                    .Select((block, index) => study.Variants[4 + index] with { Name = $"searched in blocks, block {block}",
                        Variant = "searched in blocks", Settings = [new("block", block)] }),
                ],
            },
        };
        var run = simulator.Make(3);
        return (run, Analyst.Examine(run, analysis)[0]);
    }

    private static StudyReport Rich()
    {
        var findings = new StudyFindings
        {
            Study = new() { Name = "read lines", Agreement = "exactly", IsInputChanged = true, Inputs = [], Variants = [] }, Sittings = 6,
                Rounds = 9, Caveats = [],
            Inputs =
            [
                new()
                {
                    Input = new() { Label = "mix", IsMix = true }, TwinTimeRatio = new(1, 0.99, 1.01, 0.95), ResolutionShare = 0.01,
                    Cells =
                    [
                        Cell("scan", new(400, 390, 410, 0.95), 32, null) with
                        {
                            ExceptionsPerCall = 0.05, WeightedNanosecondsPerCall = 380, Rates = [new() { Quantity = "items",
                                PerSecond = new(2.5e6, 2.4e6, 2.6e6, 0.95) },
                                    new() { Quantity = "bytes", PerSecond = new(6e9, 5.9e9, 6.1e9, 0.95),
                                        LimitShare = new(0.43, 0.42, 0.44, 0.95),
                                        Limit = "L2" }],
                            Collections = new() { PerMillionCalls = [21.7, 1, 0], Seen = 230, PauseNanosecondsPerCall = 35.4,
                                HeldShare = 0.5 },
                            Stages = [new() { Stage = "split", CountPerCall = 2, Share = new(0.6, 0.59, 0.61, 0.95),
                                NanosecondsPerCall = new(240, 236, 244, 0.95) }],
                            Loop = new() { Supply = InputSupply.Each },
                                AllocatedTypes = [new() { Type = "Lamp", Samples = 3 }, new() { Type = "Lamp[]", Samples = 1 }],
                            WarmUp = new() { ColdCallNanoseconds = 2.5e6, FirstCallNanoseconds = 9e5, CallsUntilFast = 4_096,
                                MillisecondsUntilFast = 31, AllocatedBytesPerCallBefore = 56, SettledMilliseconds = 640,
                                LastCompiledMilliseconds = 380,
                                CodeVersions = [new() { Tier = CodeTier.Quick, Milliseconds = 0.4 },
                                    new() { Tier = CodeTier.Optimised, Milliseconds = 212 }] },
                            ReadsAndWritesPerCall = 2,
                        },
                        Cell("pattern: use", new(100, 98, 102, 0.95), 0, Ratio(0.25, 0.24, 0.26, Verdict.Faster) with
                        {
                            ApartTimeRatio = new(0.35, 0.34, 0.36, 0.95),
                            Repeats = [new(1, new(0.25, 0.24, 0.26, 0.95), Verdict.Faster),
                                new(2, new(0.26, 0.2, 1.1, 0.95), Verdict.Unclear)],
                        }) with
                        {
                            OverlappedNanosecondsPerCall = new(60, 59, 61, 0.95), RetainedBytes = 8_500, LockContentionsPerCall = 0.001,
                                Loop = new() { Threads = 2, Result = ResultKind.Enumerated },
                            Threads = new() { Threads = 2, CallsPerSecond = new(2e7, 1.9e7, 2.1e7, 0.95),
                                SpeedUp = new(1.9, 1.85, 1.95, 0.95) },
                        },
                    ],
                },
            ],
        };
        var run = new Run
        {
            Tool = "test", Started = DateTimeOffset.UnixEpoch, State = RunState.Complete, Plan = new RunPlan(),
            Machine = new() { Processor = "Lamp 3000", ProcessorCount = 2, OperatingSystem = "Harbour" },
            Environment = new() { Runtime = ".NET 10.0.0", Architecture = "x64", IsOptimized = true },
            Studies = [new()
            {
                Study = findings.Study,
                Sittings = [new() { Number = 1, Seed = 1, Cells = [], WarmUps = [], WarmUpMilliseconds = 1, IsPinned = true, Rounds = 1,
                    Readings = [], StageCosts = [new() { InsideNanoseconds = 30, OutsideNanoseconds = 20, UnreadNanoseconds = 0.6 }] }],
            }],
        };
        return StudyReporter.Report(run, findings, null, new ReportOptions { Shown = Blocks.All });
    }

    private static CellFindings Cell(string name, Interval time, double bytes, Contrast? contrast) => new()
    {
        Variant = new() { Name = name, Variant = name, IsBaseline = name == "scan" }, NanosecondsPerCall = time,
            AllocatedBytesPerCall = bytes, Contrast = contrast,
        Signals = new SignalCount(),
    };

    private static Contrast Ratio(double estimate, double lower, double upper, Verdict verdict)
        => new() { TimeRatio = new(estimate, lower, upper, 0.95), Verdict = verdict };

    private static string Shown(StudyReport report, int width)
    {
        var writer = new StringWriter();
        var console = TerminalConsole.Plain(writer);
        console.Profile.Width = width;
        StudyView.Write(report, console);
        return writer.ToString();
    }

    // To approve a new rendering, look at the .received.txt beside the approved file and move it over it.
    private static void Approve(string text, string name, [CallerFilePath] string source = "")
    {
        var approved = Path.Combine(AppContext.BaseDirectory, "Approved", name);
        var normal = text.ReplaceLineEndings("\n");
        if (!File.Exists(approved) || File.ReadAllText(approved) != normal)
        {
            var received = Path.Combine(Path.GetDirectoryName(source)!, "Approved", Path.ChangeExtension(name, ".received.txt"));
            File.WriteAllText(received, normal);
            Assert.Fail($"The rendering differs from Approved/{name}; it was written to {received}:\n{normal}");
        }
    }
}
