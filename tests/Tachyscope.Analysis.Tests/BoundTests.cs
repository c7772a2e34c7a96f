using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Payoffs;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>Times that a loop may have left itself: what is said of them, and of all that follows from them.</summary>
public sealed class BoundTests
{
    private static readonly LoopShape Delegate = new() { Path = CallPath.Delegate };

    private static readonly RunSimulator Quiet = new() { SittingDeviation = 0.002, ReadingDeviation = 0.002, OutlierShare = 0, Slowing = 0,
        CallsPerReading = 1_000_000 };

    // Through a delegate a loop may leave 1 ns: 0.3 ns are at most that, which is no more than twice as long as 0.5 ns.
    [Fact]
    public void What_is_at_most_as_long_as_its_loop_may_leave_is_not_called_slower_than_what_was_measured()
    {
        var cells = Examine(Quiet with { Times = [0.5, 0.3], LoopOf = row => row == 0 ? new() : Delegate });

        Assert.Equal((0.5, Bound.None), (Math.Round(cells[0].NanosecondsPerCall.Estimate, 1), cells[0].NanosecondsPerCall.Bound));
        Assert.Equal(new Interval(1, 0, 1, 0.95) { Bound = Bound.AtMost }, cells[1].NanosecondsPerCall);
        Assert.Equal((Verdict.Unclear, Bound.AtMost), (cells[1].Contrast!.Verdict, cells[1].Contrast!.TimeRatio.Bound));
        Assert.Equal((0, 2), (cells[1].Contrast!.TimeRatio.Lower, Math.Round(cells[1].Contrast!.TimeRatio.Upper, 1)));
    }

    [Fact]
    public void A_bound_decides_on_its_own_side_only()
    {
        var cells = Examine(Quiet with { Times = [100, 0.3], LoopOf = row => row == 0 ? new() : Delegate });
        var turned = Examine(Quiet with { Times = [0.3, 100], LoopOf = row => row == 1 ? new() : Delegate });

        Assert.Equal((Verdict.Faster, Bound.AtMost), (cells[1].Contrast!.Verdict, cells[1].Contrast!.TimeRatio.Bound));
        Assert.Equal((Verdict.Slower, Bound.AtLeast, double.PositiveInfinity),
            (turned[1].Contrast!.Verdict, turned[1].Contrast!.TimeRatio.Bound, turned[1].Contrast!.TimeRatio.Upper));
        Assert.InRange(turned[1].Contrast!.TimeRatio.Lower, 98, 100);
    }

    [Fact]
    public void What_a_bound_saves_and_how_often_it_is_called_for_that_are_bounds_too()
    {
        var contrast = Examine(Quiet with { Times = [100, 0], Bytes = [0, 0] })[1].Contrast!;

        Assert.Equal(Bound.AtLeast, contrast.SavedNanosecondsPerCall.Bound);
        Assert.InRange(contrast.SavedNanosecondsPerCall.Estimate, 99, 100);
        Assert.InRange(contrast.SavedNanosecondsPerCall.Upper, 99.9, 101);
        Assert.Equal(Bound.AtMost, Payoff.Of(contrast, null).CallsPerDayForASecond.Bound);
        Assert.Equal(Bound.AtMost, contrast.TimeRatio.Through(value => value * 2).Bound);
        Assert.Equal(Bound.AtLeast, contrast.TimeRatio.Dividing(1).Bound);
    }

    [Fact]
    public void A_bound_stays_one_apart_held_in_repeats_and_across_targets()
    {
        var run = Simulated(Quiet with { Times = [100, 0] }, 1);
        var sittings = run.Studies[0].Sittings;
        Run With(Func<SittingRecord, int,
            SittingRecord> change) => run with { Studies = [run.Studies[0] with { Sittings = [.. sittings, .. sittings.Select(change)] }] };
        Contrast Found(Run of) => Analyst.Examine(of, AnalysisOptions.Default)[0].Inputs[0].Cells[1].Contrast!;
        var targets = Quiet with { Times = [100, 0.09], Slowness = [1, 1_000] };
        var across = TargetAnalyst.Examine(targets.Make(1), targets.Make(1).Studies[0], AnalysisOptions.Default).Contrast(1, 0, 1)!;

        Assert.Equal(Bound.AtMost, Found(With((sitting, _) => sitting with { IsApart = true })).ApartTimeRatio!.Value.Bound);
        Assert.Equal(Bound.AtMost,
            Found(With((sitting, _) => sitting with
            {
                Readings = [.. sitting.Readings.Select(reading => reading with { IsCollectionHeld = true })],
            })).Held!.TimeRatio.Bound);
        Assert.All(Found(With((sitting, _) => sitting with { Repeat = 2 })).Repeats,
            repeat => Assert.Equal((Verdict.Faster, Bound.AtMost), (repeat.Verdict, repeat.TimeRatio.Bound)));
        Assert.Equal((Verdict.Slower, Bound.AtLeast), (across.Verdict, across.TimeRatio.Bound));
    }

    [Fact]
    public void Two_bounds_say_nothing_of_each_other_and_no_time_will()
    {
        var findings = Analyst.Examine(Simulated(Quiet with { Times = [0, 0] }, 1), AnalysisOptions.Default)[0];

        Assert.Equal((Verdict.Unclear, Bound.Open),
            (findings.Inputs[0].Cells[1].Contrast!.Verdict, findings.Inputs[0].Cells[1].Contrast!.TimeRatio.Bound));
        Assert.True(findings.IsPrecise(0.01));
        Assert.Equal([(1, 0)], findings.Decided(0.01));
    }

    // In a third of the rounds the loop around nothing took longer than the operation; those rounds are its fastest, not missing.
    [Fact]
    public void A_round_without_any_time_ranks_below_all_others()
    {
        double[] times = [-1, 2, -1, 4, 2, 4, 4, 4, -1], others = [4, 4, 4, 4, 4, 4, 4, 4, 4];

        var logs = RoundRatios.Logs(times, others, null, null);

        Assert.Equal(3, logs.Count(double.IsNegativeInfinity));
        Assert.Equal(Math.Log(0.5), RoundRatios.Middle(logs), 9);
        Assert.Equal(double.NegativeInfinity, RoundRatios.Middle(RoundRatios.Logs([-1, -1, 4], [4, 4, 4], null, null)));
        Assert.Equal(0, RoundRatios.Middle(RoundRatios.Logs([-1, 4], [4, 4], null, null)));
        Assert.True(double.IsNaN(RoundRatios.Middle(RoundRatios.Logs([-1, double.NaN], [-1, 4], null, null))));
    }

    private static IReadOnlyList<CellFindings> Examine(RunSimulator simulator)
        => Analyst.Examine(Simulated(simulator, 1), AnalysisOptions.Default)[0].Inputs[0].Cells;

    private static Run Simulated(RunSimulator simulator, int seed) => simulator.Make(seed);
}
