using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Reasons;
using Tachyscope.Analysis.Speeds;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>Code that settles at several speeds: found where it does, never where it does not, and told by each.</summary>
public sealed class SpeedTests
{
    private const int Samples = 1_000;
    private const int Runs = 300;

    // The spread within speeds is that of layout elsewhere.
    private static readonly RunSimulator Quiet = new()
    {
        Times = [100, 95], Sittings = 14, Rounds = 12, SharedShare = 0.3, SharedFactors = [1.6, 1.3], CallsPerReading = 500, Slowing = 0,
    };

    private static readonly RunSimulator Placed = Quiet with { SecondSpeeds = [(0, 1), (0.4, 1.3)] };

    [Theory]
    [InlineData(14, 5, 14, ProbeVerdict.Supported)]
    [InlineData(14, 4, 14, ProbeVerdict.Supported)]
    [InlineData(14, 3, 14, ProbeVerdict.Unclear)]
    [InlineData(14, 5, 6, ProbeVerdict.Unclear)]
    [InlineData(14, 5, 0, ProbeVerdict.Unclear)]
    [InlineData(14, 0, 14, ProbeVerdict.Unclear)]
    public void What_takes_a_speed_away_has_a_part_in_it_where_that_is_no_luck(int placements, int slow, int tried, ProbeVerdict verdict)
        => Assert.Equal(verdict, SpeedJudge.Of(Settled(placements, slow), Settled(tried, 0)));

    [Fact]
    public void What_leaves_several_speeds_has_no_part_in_them()
        => Assert.Equal(ProbeVerdict.NotSupported, SpeedJudge.Of(Settled(14, 5), Settled(14, 2)));

    public static TheoryData<string, int> OneHeap => new(
        from kind in (string[])["normal", "uniform", "heavy tails", "skewed", "drifting", "outliers", "slow outliers"]
        from count in (int[])[6, 9, 13, 18, 24]
        select (kind, count));

    private static CellFindings Settled(int placements, int slow)
    {
        var any = new Interval(1, 1, 1, 0.95);
        return new CellFindings
        {
            Variant = new VariantDescription { Name = "quick", Variant = "quick" }, NanosecondsPerCall = any, Placements = placements,
            Signals = new SignalCount(),
            Speeds = slow == 0 ? [] : [new Speed(placements - slow, any, any), new Speed(slow, any, any)],
        };
    }

    [Theory]
    [MemberData(nameof(OneHeap))]
    public void One_heap_is_hardly_ever_split(string kind, int count)
    {
        var split = Enumerable.Range(0, Samples).AsParallel().Count(seed => Heaps.Of(Sample(kind, count, new Random(seed)), 0,
            0).Max() > 0);

        // Two in a hundred, and what a thousand samples may differ from that by.
        Assert.InRange((double)split / Samples, 0, 0.03);
    }

    [Theory]
    [InlineData(14, 5, 0)]
    [InlineData(14, 4, 1)]
    [InlineData(18, 7, 2)]
    [InlineData(40, 10, 4)]
    public void Two_heaps_are_found_and_what_lies_astray_is_left_out(int count, int upper, int astray)
    {
        var found = Enumerable.Range(0, Samples).AsParallel().Count(seed =>
        {
            var random = new Random(seed);
            double[] values = [.. Enumerable.Range(0, count).Select(index => (index < upper ? 0.25 : 0)
                + (index >= count - astray ? 0.6 + (0.4 * random.NextDouble()) : 0) + (0.005 * RunSimulator.Normal(random)))];
            var heaps = Heaps.Of(values, 0.01, 0);
            return heaps[..upper].All(heap => heap == 1) && heaps[upper..(count - astray)].All(heap => heap == 0)
                && heaps[(count - astray)..].All(heap => heap == Heaps.Astray);
        });

        Assert.InRange((double)found / Samples, 0.9, 1);
    }

    [Fact]
    public void Three_heaps_are_three()
        => Assert.Equal([0, 0, 0, 0, 1, 1, 1, 2, 2, 2, 2, 0, 1, 2], Heaps.Of(
            [1, 1.001, 0.999, 1.002, 1.09, 1.091, 1.089, 1.18, 1.181, 1.179, 1.182, 0.998, 1.092, 1.178], 0.01, 0));

    [Fact]
    public void What_a_value_is_not_known_better_than_parts_nothing()
        => Assert.All(Heaps.Of([1, 1.001, 0.999, 1.03, 1.031, 1.029], 0.01, 0.01), heap => Assert.Equal(0, heap));

    [Fact]
    public void Each_speed_is_told_with_its_time_and_how_often_it_comes()
    {
        var cell = Examine(Placed, 3).Cells[1];

        Assert.Equal(2, cell.Speeds.Count);
        Assert.Equal(14, cell.Placements);
        Assert.Equal(14, cell.Speeds.Sum(speed => speed.Placements));
        Assert.InRange(cell.Speeds[0].NanosecondsPerCall.Estimate, 93, 97);
        Assert.InRange(cell.Speeds[1].NanosecondsPerCall.Estimate, 121, 126);
        Assert.All(cell.Speeds, speed => Assert.InRange(speed.NanosecondsPerCall.HalfWidth, 0, 2));
        Assert.All(cell.Speeds, speed => Assert.True(speed.Chance.Lower < speed.Chance.Estimate
            && speed.Chance.Estimate < speed.Chance.Upper));
        Assert.Equal(cell.Speeds[0].Placements / 14.0, cell.Speeds[0].Chance.Estimate, 9);
    }

    [Fact]
    public void Where_it_is_faster_at_one_and_slower_at_another_there_is_no_verdict_but_one_for_each()
    {
        var contrast = Examine(Placed, 3).Cells[1].Contrast!;

        Assert.Equal([Verdict.Faster, Verdict.Slower], contrast.Speeds.Select(speed => speed.Verdict));
        Assert.True(contrast.DependsOnSpeed);
        Assert.Equal(Verdict.Unclear, contrast.Verdict);
        Assert.Null(contrast.SittingsToDecide);
    }

    [Fact]
    public void Where_it_is_faster_at_both_it_is_faster_and_no_less_than_at_its_slower_one()
    {
        var contrast = Examine(Placed with { Times = [100, 50] }, 3).Cells[1].Contrast!;

        Assert.Equal(Verdict.Faster, contrast.Verdict);
        Assert.False(contrast.DependsOnSpeed);
        Assert.True(contrast.TimeRatio.Upper <= contrast.Speeds.Max(speed => speed.TimeRatio.Upper));
    }

    [Fact]
    public void A_placement_astray_is_told_and_left_out_of_the_mean()
    {
        var run = (Placed with { SecondSpeeds = [(0, 1), (0.4, 1.03)], SittingDeviation = 0.0005 }).Make(3);
        var study = run.Studies[0];
        study = study with { Sittings = [Slowed(study.Sittings[0], 3), .. study.Sittings.Skip(1)] };
        var cell = Analyst.Examine(run, study, AnalysisOptions.Default).Inputs[0].Cells[1];

        Assert.Equal(2, cell.Speeds.Count);
        Assert.Equal(13, cell.Speeds.Sum(speed => speed.Placements));
        Assert.InRange(cell.Contrast!.TimeRatio.Estimate, cell.Contrast.Speeds.Min(speed => speed.TimeRatio.Lower),
            cell.Contrast.Speeds.Max(speed => speed.TimeRatio.Upper));
        Assert.InRange(cell.Contrast.TimeRatio.Estimate, cell.Contrast.TimeRatio.Lower, cell.Contrast.TimeRatio.Upper);
    }

    private static SittingRecord Slowed(SittingRecord sitting, long times) => sitting with
    {
        Readings = [.. sitting.Readings.Select(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant, Variant: 1 }
            ? reading with
            {
                ElapsedNanoseconds = times * reading.ElapsedNanoseconds, ProcessorNanoseconds = times * reading.ProcessorNanoseconds,
            }
            : reading)],
    };

    [Fact]
    public void A_baseline_with_two_speeds_is_compared_at_each_and_its_twin_does_not_hide_it()
    {
        var findings = Examine(Quiet with { SecondSpeeds = [(0.4, 1.3), (0, 1)] }, 5);
        var contrast = findings.Cells[1].Contrast!;

        Assert.Equal(2, findings.Cells[0].Speeds.Count);
        Assert.Empty(findings.Cells[1].Speeds);
        Assert.Equal([(0, 0), (0, 1)], contrast.Speeds.Select(speed => (speed.Speed, speed.OtherSpeed)));
        Assert.All(contrast.Speeds, speed => Assert.Equal(Verdict.Faster, speed.Verdict));
        Assert.Equal(Verdict.Faster, contrast.Verdict);
    }

    [Fact]
    public void Of_copies_in_one_process_each_is_a_placement()
    {
        var cell = Examine(Placed with { Sittings = 6, Copies = 4, Rounds = 60 }, 2).Cells[1];

        Assert.Equal(24, cell.Placements);
        Assert.Equal(2, cell.Speeds.Count);
    }

    [Fact]
    public void What_makes_them_is_a_caveat_in_place_of_those_that_only_see_the_spread()
    {
        var run = Placed.Make(3);
        var names = Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default).Caveats.Select(caveat => caveat.Name).ToList();

        Assert.Contains("several-speeds", names);
        Assert.DoesNotContain("two-modes", names);
        Assert.DoesNotContain("sittings-disagree", names);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(5)]
    public void Few_sittings_tell_no_speeds(int sittings)
        => Assert.All(Examine(Placed with { Sittings = sittings }, 3).Cells, cell => Assert.Empty(cell.Speeds));

    [Fact]
    public void On_a_core_that_was_shared_all_the_time_no_speeds_are_told()
        => Assert.All(Examine(Placed with { SharedShare = 1.3 }, 3).Cells, cell => Assert.Empty(cell.Speeds));

    [Fact]
    public void Differences_within_the_margin_are_one_speed()
    {
        var run = (Placed with { SecondSpeeds = [(0, 1), (0.4, 1.03)], SittingDeviation = 0.0005 }).Make(3);

        Assert.Equal(2, Cells(run, AnalysisOptions.Default)[1].Speeds.Count);
        Assert.Empty(Cells(run, AnalysisOptions.Default with { MarginShare = 0.05 })[1].Speeds);

        static IReadOnlyList<CellFindings> Cells(Run run, AnalysisOptions options) => Analyst.Examine(run, run.Studies[0],
            options).Inputs[0].Cells;
    }

    [Fact]
    public void One_speed_is_taken_for_several_in_at_most_two_of_a_hundred_runs()
    {
        var claimed = Enumerable.Range(0, Runs).AsParallel().Sum(seed => Examine(Quiet, seed).Cells.Count(cell => cell.Speeds.Count > 0));

        Assert.InRange(claimed / (2.0 * Runs), 0, 0.02);
    }

    [Fact]
    public void Two_speeds_are_found_and_the_contrast_at_each_holds_the_truth()
    {
        var runs = Enumerable.Range(0, Runs).AsParallel().Select(seed => Examine(Placed, seed).Cells[1]).ToList();
        var found = runs.Where(cell => cell.Speeds.Count == 2).ToList();
        var held = found.SelectMany(cell => cell.Contrast!.Speeds)
            .Select(speed => speed.TimeRatio.Through(ratio => ratio / (speed.Speed == 0 ? 0.95 : 0.95 * 1.3)))
            .Select(ratio => ratio.Lower <= 1 && ratio.Upper >= 1).ToList();

        Assert.InRange((double)found.Count / Runs, 0.9, 1);
        // Both of a pair hold together in 95 of a hundred, so that each holds in 97 or 98.
        Assert.InRange(held.Count(holds => holds) / (double)held.Count, 0.955, 0.995);
    }

    [Fact]
    public void What_was_compiled_otherwise_at_another_speed_is_named_and_comes_before_what_follows_from_it()
    {
        // Code of another length lies elsewhere, too.
        var cause = CauseFinder.Find([.. Codes(14, (speed, _) => new CellCode { Bytes = speed == 0 ? 187 : 170,
            Offset = speed == 0 ? 64 : 96, InputOffset = 24 })]);

        Assert.Equal(SpeedCauseKind.Compilation, cause!.Kind);
        Assert.Null(cause.Of);
        Assert.Equal([[187], [170]], cause.Values);
        Assert.Equal((14, 14), (cause.Placements, cause.Alike));
    }

    [Theory]
    [InlineData(SpeedCauseKind.Inlining)]
    [InlineData(SpeedCauseKind.CodePlacement)]
    [InlineData(SpeedCauseKind.DataPlacement)]
    public void Where_code_and_data_lie_and_what_was_taken_in_are_told_from_each_other(SpeedCauseKind kind)
    {
        var found = CauseFinder.Find([.. Codes(14, (speed, random) => new CellCode
        {
            IsInlined = kind == SpeedCauseKind.Inlining ? speed == 0 : false,
            Bytes = 187,
            Offset = (64 * random.Next(64)) + (kind == SpeedCauseKind.CodePlacement ? 32 * speed : 32 * random.Next(2)),
            InputOffset = (64 * random.Next(64)) + (kind == SpeedCauseKind.DataPlacement ? 8 * speed : 8 * random.Next(8)),
        })]);

        Assert.Equal(kind, found?.Kind);
    }

    [Fact]
    public void A_method_that_is_called_may_be_what_differs()
    {
        var cause = CauseFinder.Find([.. Codes(14, (speed, _) => new CellCode
        {
            IsInlined = true, LoopBytes = 248, Callees = [new("System.Number:Read", 90, 64), new("System.Text:Write", 80 + speed, 128)],
        })]);

        Assert.Equal((SpeedCauseKind.Compilation, "System.Text:Write"), (cause!.Kind, cause.Of));
    }

    [Fact]
    public void What_does_not_go_along_with_the_speeds_is_hardly_ever_named()
    {
        var named = Enumerable.Range(0, Samples).AsParallel().Count(seed => CauseFinder.Find([.. Codes(14, (_, random) => new CellCode
        {
            IsInlined = random.Next(2) == 0, Bytes = 180 + random.Next(3), Offset = 32 * random.Next(128),
                InputOffset = 8 * random.Next(512),
        }, seed)]) is not null);

        // Four looks, each wrong in one of a hundred at most.
        Assert.InRange((double)named / Samples, 0, 0.04);
    }

    [Fact]
    public void Of_few_placements_no_cause_is_named()
        => Assert.Null(CauseFinder.Find([.. Codes(5, (speed, _) => new CellCode { Bytes = 180 + speed })]));

    // Nearly half of them at the second speed.
    private static IEnumerable<(int Speed, CellCode Code)> Codes(int count, Func<int, Random, CellCode> code, int seed = 1)
    {
        var random = new Random(seed);
        int[] speeds = [.. Enumerable.Range(0, count).Select(index => index < 0.45 * count ? 1 : 0)];
        random.Shuffle(speeds);
        return speeds.Select(speed => (speed, code(speed, random)));
    }

    private static InputFindings Examine(RunSimulator simulator, int seed)
    {
        var run = simulator.Make(seed);
        return Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default).Inputs[0];
    }

    private static double[] Sample(string kind, int count, Random random)
    {
        double Normal() => RunSimulator.Normal(random);
        return [.. Enumerable.Range(0, count).Select(index => kind switch
        {
            "uniform" => random.NextDouble(),
            "heavy tails" => Normal() / Math.Sqrt((Math.Pow(Normal(), 2) + Math.Pow(Normal(), 2) + Math.Pow(Normal(), 2)) / 3),
            "skewed" => Math.Exp(Normal()),
            "drifting" => (4.0 * index / count) + (0.5 * Normal()),
            "outliers" => (random.NextDouble() < 0.1 ? 10 : 1) * Normal(),
            "slow outliers" => Normal() + (random.NextDouble() < 0.1 ? Math.Abs(10 * Normal()) : 0),
            _ => Normal(),
        })];
    }
}
