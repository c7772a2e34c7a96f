using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Limits;
using Tachyscope.Analysis.Uses;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>What is to be taken, what that loses at worst, and that no two answers of one study contradict each other.</summary>
public sealed class DecisionTests
{
    private static readonly RunSimulator Quiet = new() { SittingDeviation = 0.002, ReadingDeviation = 0.004, OutlierShare = 0.02,
        Slowing = 0, Rounds = 8 };

    [Fact]
    public void The_fastest_everywhere_is_taken_and_loses_nothing()
    {
        var decision = Assert.Single(Examine(Quiet with { Times = [100, 80, 50], Bytes = new long[3] }).Decisions);

        Assert.Equal((2, true, 0.0, 0.0), (decision.Row, decision.IsFastest, decision.Loss.EstimateShare, decision.Loss.WorstShare));
    }

    // One that spreads thirty times as much is separated from nothing; that is no reason to take it.
    [Theory]
    [InlineData(112)]
    [InlineData(125)]
    public void What_is_only_too_wide_to_be_told_apart_is_not_taken(double time)
    {
        var simulator = Quiet with { Sizes = [16, 64, 256], TimeAt = (row, _) => row == 0 ? 104 : row == 1 ? 100 : time, Times = [1, 1, 1],
            Bytes = new long[3], Unrest = [1, 1, 60] };
        for (var seed = 0; seed < 40; seed++)
        {
            var findings = Examine(simulator, seed);

            Assert.Equal(1, Assert.Single(findings.Decisions).Row);
            Assert.All(findings.Growth[0].Bands, band => Assert.NotEqual(2, band.Row));
        }
    }

    [Fact]
    public void What_it_loses_at_worst_is_not_exceeded_in_19_of_20_runs()
    {
        var simulator = Quiet with { Times = [100, 99, 101, 102], Bytes = new long[4], SittingDeviation = 0.01 };

        var held = Enumerable.Range(0, 400).Count(seed => Examine(simulator, seed).Decisions[0] is var decision
            && simulator.Times[decision.Row] / 99 <= 1 + decision.Loss.WorstShare);

        Assert.InRange(held / 400.0, 0.95, 1);
    }

    // A pair has one verdict and one interval, whichever way it is asked for.
    [Theory]
    [InlineData(Against.Baseline)]
    [InlineData(Against.Previous)]
    [InlineData(Against.Each)]
    public void A_verdict_a_place_and_a_pair_never_contradict(Against against)
    {
        var simulator = Quiet with { Times = [100, 99.4, 99, 98.5, 100.5], Bytes = new long[5], SittingDeviation = 0.004 };
        for (var seed = 0; seed < 60; seed++)
        {
            var input = Analyst.Examine(simulator.Make(seed), new() { Against = against })[0].Inputs[0];
            Assert.All(input.Cells.Where(cell => cell.Contrast is not null), cell =>
            {
                var pair = input.Pairs.Where(pair => (pair.Row, pair.Other) == (cell.Row, cell.Contrast!.Other))
                    .Concat(input.Pairs.Where(pair => (pair.Other, pair.Row) == (cell.Row, cell.Contrast!.Other))
                        .Select(pair => pair.Reversed())).Single();
                Assert.Equal((cell.Contrast!.Verdict, cell.Contrast.TimeRatio), (pair.Verdict, pair.TimeRatio));
                if (cell.Contrast.Verdict == Verdict.Slower)
                {
                    Assert.True(cell.Place!.Value.First > 1);
                }
            });
            Assert.All(input.Pairs.Where(pair => pair.Verdict == Verdict.Faster), pair => Assert.True(pair.TimeRatio.Upper < 1));
            Assert.All(input.Pairs.Where(pair => pair.Verdict == Verdict.Slower), pair => Assert.True(pair.TimeRatio.Lower > 1));
        }
    }

    // A collection of 1 ms in one reading of twenty, of 100,000 calls each, is 0.5 ns a call that no median has.
    [Fact]
    public void Collections_are_paid_in_what_is_saved_and_in_limits_and_not_in_the_typical_call()
    {
        var simulator = Quiet with
        {
            Times = [20, 18], ReadingDeviation = 0.0005, SittingDeviation = 0.0005, OutlierShare = 0, Rounds = 60, Pauses = [
                (0, 0), (0.1, 5_000_000)],
            Shape = study => study with { Limits = [new() { Variant = "v1", Nanoseconds = 20 }] },
        };

        var findings = Examine(simulator);
        var cell = findings.Inputs[0].Cells[1];

        Assert.Equal(18, cell.NanosecondsPerCall.Estimate, 0.1);
        Assert.Equal(23, cell.PaidNanosecondsPerCall!.Value.Estimate, 0.7);
        Assert.Equal(Verdict.Faster, cell.Contrast!.Verdict);
        Assert.InRange(cell.Contrast.PaidTimeRatio!.Value.Estimate, 1.1, 1.2);
        Assert.InRange(cell.Contrast.SavedNanosecondsPerCall.Estimate, -4, -2);
        Assert.Equal(LimitState.Broken, Assert.Single(findings.Inputs[0].Limits).State);
        Assert.Null(findings.Inputs[0].Cells[0].PaidNanosecondsPerCall);
    }

    // What is prepared saves nothing that is known when its uses are not told apart from what it is held against.
    [Fact]
    public void A_break_even_is_silent_where_uses_are_not_told_apart()
        => Assert.All(Enumerable.Range(0, 40), seed => Assert.NotEqual(
            BreakEvenAnswer.After, Examine(PreparedStudy.Of(Quiet, 1_000, 100), seed).Inputs[0].BreakEvens[0].Answer));

    // Ten and a half per cent between the ends cannot both be constant and grow.
    [Fact]
    public void No_time_is_called_constant_whose_exponent_says_that_it_grows()
    {
        var simulator = Quiet with { Sizes = [16, 24, 32], TimeAt = (_, size) => 10 * Math.Pow(size, 0.47), Times = [1, 1],
            SittingDeviation = 0.08 };
        Assert.All(Enumerable.Range(0, 60).SelectMany(seed => Examine(simulator, seed).Growth[0].Variants), variant =>
            Assert.False(variant.Law?.Law == Growth.GrowthLaw.Constant && variant.Exponent.Lower > 0.05, $"{variant.Exponent}"));
    }

    // The look-up takes 70 of 100 ns and 35 of 60: seven eighths of the difference, which is as uncertain as its parts.
    [Fact]
    public void The_share_of_a_stage_is_held_with_what_is_uncertain_in_the_difference()
    {
        var simulator = Quiet with { Times = [100, 60], SittingDeviation = 0.05 };

        var held = Enumerable.Range(0, 400).Count(seed =>
        {
            var run = simulator.Make(seed);
            var study = run.Studies[0] with { Sittings = [.. run.Studies[0].Sittings.Select(WithLookUp)] };
            var share = Analyst.Examine(run with { Studies = [study] }, AnalysisOptions.Default)[0].Inputs[0].Cells[1].Contrast!.Stages
                .Single(stage => stage.Stage == "look up").ShareOfDifference;
            return share.Lower <= 0.875 && share.Upper >= 0.875;
        });

        Assert.InRange(held / 400.0, 0.92, 0.98);
    }

    private static SittingRecord WithLookUp(SittingRecord sitting) => sitting with
    {
        StageCosts = [new() { InsideNanoseconds = 0, OutsideNanoseconds = 0, UnreadNanoseconds = 0 }],
        StageReadings = [.. Enumerable.Range(0, sitting.Cells.Count)
            .Where(cell => sitting.Cells[cell].Kind == CellKind.Variant).Select(cell => new StageReading
        {
            Cell = cell, Calls = 1_000, ElapsedNanoseconds = sitting.Cells[cell].Variant == 0 ? 100_000 : 60_000,
            Stages = [new() { Stage = "look up", Count = 1_000, ElapsedNanoseconds = sitting.Cells[cell].Variant == 0 ? 70_000 : 35_000 }],
        })],
    };

    private static StudyFindings Examine(RunSimulator simulator, int seed = 1)
        => Analyst.Examine(simulator.Make(seed), AnalysisOptions.Default)[0];
}
