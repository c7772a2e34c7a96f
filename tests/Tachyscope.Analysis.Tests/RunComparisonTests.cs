using MathNet.Numerics.Distributions;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Histories;

namespace Tachyscope.Analysis.Tests;

public sealed class RunComparisonTests
{
    private static readonly RunSummary Plain = new() { Started = DateTimeOffset.UnixEpoch, Tool = "test", Machine = "a lamp room",
        Runtime = ".NET" };

    [Theory]
    [InlineData(0.005, 0)]
    [InlineData(0.014, 0)]
    [InlineData(0.014, 12)]
    [InlineData(0.04, 25)]
    public void What_two_times_bring_is_in_the_interval(double between, int repeats)
    {
        const int comparisons = 600;
        var random = new Random(5);
        var (held, claimed, width) = (0, 0, 0.0);
        for (var turn = 0; turn < comparisons; turn++)
        {
            var pairs = Enumerable.Range(0, repeats).Select(_ => (Make(random, 0, between), Make(random, 0, between))).ToList();
            var found = RunComparison.Of(Make(random, 0, between), Make(random, 0.05, between), pairs, 0.01);
            var same = RunComparison.Of(Make(random, 0, between), Make(random, 0, between), pairs, 0.01);
            held += found.Changes.All(change => change.TimeRatio.Lower <= Math.Exp(0.05) && Math.Exp(0.05) <= change.TimeRatio.Upper) ? 1
                : 0;
            claimed += same.Changes.Any(change => change.Verdict is Verdict.Faster or Verdict.Slower) ? 1 : 0;
            width += found.Changes[0].TimeRatio.HalfWidth / comparisons;
        }

        Assert.InRange((double)held / comparisons, 0.93, 1);
        Assert.InRange((double)claimed / comparisons, 0, 0.07);
        Assert.InRange(width, 2 * between, 0.25);
    }

    [Fact]
    public void Repeats_teach_how_far_runs_lie_apart()
    {
        var random = new Random(2);

        var none = BetweenRuns.Of([], isQuiet: true);
        var many = BetweenRuns.Of(Enumerable.Range(0, 400).Select(_ => (Make(random, 0, 0.03), Make(random, 0, 0.03))), isQuiet: true);

        Assert.Equal(BetweenRuns.PriorQuietDeviation, Math.Sqrt(none.Variance), 6);
        Assert.Equal(0, none.Repeats);
        Assert.Equal(400, many.Repeats);
        Assert.InRange(Math.Sqrt(many.Variance), 0.9 * Math.Sqrt(2) * 0.03, 1.1 * Math.Sqrt(2) * 0.03);
        Assert.True(BetweenRuns.Of([], isQuiet: false).Variance > none.Variance);
    }

    [Fact]
    public void Cells_are_matched_by_name_and_what_is_on_one_side_is_listed()
    {
        var random = new Random(1);
        var (one, other) = (Make(random, 0, 0), Make(random, 0.2, 0));
        one = one with { Cells = [.. one.Cells, one.Cells[0] with { Variant = "gone" }] };
        other = other with { Cells = [other.Cells[1] with { Bytes = 96 }, other.Cells[0], other.Cells[0] with { Variant = "new" }] };

        var found = RunComparison.Of(one, other, [], 0.01);

        Assert.Equal([("v1", true), ("v0", false)], found.Changes.Select(change => (change.Later.Variant, change.IsAllocationChanged)));
        Assert.All(found.Changes, change => Assert.Equal(Verdict.Slower, change.Verdict));
        Assert.Equal("gone", Assert.Single(found.OnlyEarlier).Variant);
        Assert.Equal("new", Assert.Single(found.OnlyLater).Variant);
        Assert.True(found.AreMachinesAlike);
        Assert.False(found.IsSameCode);
    }

    // A duel's work tree and a run without targets.
    [Fact]
    public void The_work_tree_is_one_cell_with_targets_and_without()
    {
        var one = Make(new Random(1), 0, 0);
        var duel = one with
        {
            Cells = [.. ((string[])["HEAD", "now"]).SelectMany(on => one.Cells.Select(cell => cell with { Target = on }))],
        };

        Assert.Equal(["now", "now"], RunComparison.Of(duel, one, [], 0.01).Changes.Select(change => change.Earlier.Target));
        Assert.Equal(["", ""], RunComparison.Of(one, duel, [], 0.01).Changes.Select(change => change.Earlier.Target));
        Assert.Equal(4, RunComparison.Of(duel, duel, [], 0.01).Changes.Count);
    }

    [Fact]
    public void A_bound_is_told_apart_only_from_what_lies_well_beyond_it()
    {
        var measured = Make(new Random(1), 0, 0).Cells[0];
        var bound = measured with { Nanoseconds = 30, IsBound = true, Beats = double.NaN, LogError = double.NaN };

        Assert.Equal(Verdict.Slower, Decide(bound, measured));
        Assert.Equal(Verdict.Faster, Decide(measured, bound));
        Assert.Equal(Verdict.Unclear, Decide(bound, bound));
        Assert.Equal(Verdict.Unclear, Decide(bound with { Nanoseconds = 99 }, measured));
        Assert.Equal(Verdict.Unclear, Decide(measured with { Sittings = 1, LogError = double.NaN }, measured));
    }

    [Fact]
    public void A_slower_processor_is_no_slower_code()
    {
        var run = Make(new Random(1), 0, 0);
        var slow = run with { Cells = [.. run.Cells.Select(cell => cell with { Nanoseconds = cell.Nanoseconds * 1.3 })] };

        Assert.All(RunComparison.Of(run, slow, [], 0.01).Changes, change => Assert.Equal(1, change.TimeRatio.Estimate, 6));
        Assert.All(RunComparison.Of(run, slow with { Machine = "another" }, [], 0.01).Changes,
            change => Assert.Equal(1.3, change.TimeRatio.Estimate, 6));
    }

    [Fact]
    public void A_run_is_summed_up_by_its_cells()
    {
        var run = new RunSimulator { Times = [100, 50], Bytes = [24, 0], SharedShare = 0.2 }.Make(3);

        var found = RunSummary.Of(run);

        Assert.Equal([("v0", 24.0), ("v1", 0.0)], found.Cells.Select(cell => (cell.Variant, cell.Bytes)));
        Assert.All(found.Cells, cell => Assert.True(cell is { IsQuiet: true, IsBound: false, Sittings: 6, Target: "" }));
        Assert.InRange(found.Cells[0].Nanoseconds / found.Cells[1].Nanoseconds, 1.9, 2.1);
        Assert.InRange(found.Cells[0].Beats, 90, 110);
        Assert.InRange(found.Cells[0].LogError, 0.0001, 0.01);
        Assert.Equal(run.Environment.Runtime, found.Runtime);
    }

    private static Verdict Decide(CellSummary was, CellSummary now)
        => RunComparison.Of(Plain with { Cells = [was] }, Plain with { Cells = [now] }, [], 0.01).Changes[0].Verdict;

    // Six sittings that deviate by half a percent, in a run that deviates as a whole and cell by cell.
    private static RunSummary Make(Random random, double log, double between)
    {
        return Plain with { Cells = [.. Enumerable.Range(0, 2).Select(variant =>
        {
            var mean = log + (between * Normal.Sample(random, 0, 1));
            double[] sittings = [.. Enumerable.Range(0, 6).Select(_ => mean + (0.005 * Normal.Sample(random, 0, 1)))];
            var time = 100 * Math.Exp(sittings.Average());
            return new CellSummary
            {
                Study = "lamps", Variant = $"v{variant}", Input = "one", Nanoseconds = time, Beats = time, Sittings = 6, Bytes = 24,
                IsQuiet = true, LogError = MathNet.Numerics.Statistics.ArrayStatistics.StandardDeviation(sittings) / Math.Sqrt(6),
            };
        })] };
    }
}
