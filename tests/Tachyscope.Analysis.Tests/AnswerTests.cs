using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Growth;
using Tachyscope.Analysis.Limits;
using Tachyscope.Analysis.Payoffs;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Uses;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>What the user wanted to know, from runs whose truth is known.</summary>
public sealed class AnswerTests
{
    private static readonly RunSimulator Quiet = new() { SittingDeviation = 0.002, ReadingDeviation = 0.004, OutlierShare = 0.02,
        Slowing = 0, Rounds = 8 };

    [Fact]
    public void Variants_that_nothing_separates_share_their_places()
    {
        var input = Examine(Quiet with { Times = [100, 80, 80, 50], Bytes = new long[4] }).Inputs[0];

        Assert.Equal([new(4, 4), new(2, 3), new(2, 3), new(1, 1)], input.Cells.Select(cell => cell.Place!.Value));
        Assert.Equal(6, input.Pairs.Count);
    }

    [Fact]
    public void A_place_is_a_range_where_a_third_is_told_from_one_of_two_only()
    {
        // The first run in which nothing separates neighbours and the ends are apart.
        var simulator = Quiet with { Times = [100, 101.2, 102.4], Bytes = new long[3], SittingDeviation = 0.005 };
        var input = Enumerable.Range(0, 100).Select(seed => Examine(simulator, seed: seed).Inputs[0])
            .First(found => found.Pairs.OrderBy(pair => pair.Row + pair.Other).Select(pair => pair.Verdict)
                .SequenceEqual([Verdict.Unclear, Verdict.Slower, Verdict.Unclear]));

        Assert.Equal([new(1, 2), new(1, 3), new(2, 3)], input.Cells.Select(cell => cell.Place!.Value));
    }

    [Fact]
    public void A_chain_compares_each_with_the_one_before_and_the_last_with_the_first()
    {
        var input = Examine(Quiet with { Times = [100, 80, 40], Bytes = new long[3] }, new() { Against = Against.Previous }).Inputs[0];

        Assert.Null(input.Cells[0].Contrast);
        Assert.Equal([(0, 0.8), (1, 0.5)], input.Cells.Skip(1)
            .Select(cell => (cell.Contrast!.Other, Math.Round(cell.Contrast.TimeRatio.Estimate, 2))));
        var whole = Assert.Single(input.Chains);
        Assert.Equal((0, 0.4), (whole.Other, Math.Round(whole.TimeRatio.Estimate, 2)));
        Assert.Equal(40, input.Cells[2].Contrast!.SavedNanosecondsPerCall.Estimate, 0.5);
    }

    [Fact]
    public void Against_each_the_level_is_adjusted_for_every_pair()
    {
        var simulator = Quiet with { Times = [100, 99.9, 100.1, 100], Bytes = new long[4] };

        var (few, many) = (Examine(simulator).Inputs[0], Examine(simulator, new() { Against = Against.Each }).Inputs[0]);

        Assert.All(few.Cells.Skip(1), cell => Assert.Equal(1 - (0.05 / 3), cell.Contrast!.TimeRatio.Level, 9));
        Assert.Equal(1 - (0.05 / 6), many.Cells.Max(cell => cell.Contrast?.TimeRatio.Level ?? 0), 9);
    }

    [Fact]
    public void Two_that_no_clock_can_tell_from_nothing_are_not_compared_and_one_gets_a_bound()
    {
        var cells = Examine(Quiet with { Times = [100, 0, 0], Bytes = new long[3] }, new() { Against = Against.Each }).Inputs[0];

        Assert.All(cells.Cells.Skip(1), cell => Assert.Equal(Bound.AtMost, cell.Contrast!.TimeRatio.Bound));
        Assert.Equal(0.001, cells.Cells[1].Contrast!.TimeRatio.Estimate, 4);
        Assert.Equal(Bound.Open, cells.Pairs.Single(pair => (pair.Row, pair.Other) == (2, 1)).TimeRatio.Bound);
    }

    public static TheoryData<GrowthLaw, Func<int, double>> Laws => new()
    {
        { GrowthLaw.Constant, _ => 40 },
        { GrowthLaw.Logarithmic, n => 5 + (3 * Math.Log2(n)) },
        { GrowthLaw.Linear, n => 8 + (0.7 * n) },
        { GrowthLaw.Linearithmic, n => 20 + (0.5 * n * Math.Log2(n)) },
        { GrowthLaw.Quadratic, n => 30 + (0.02 * n * n) },
        { GrowthLaw.Cubic, n => 30 + (0.001 * n * n * n) },
        { GrowthLaw.LinearWithStep, n => n <= 512 ? 3 + n : 3 + (2 * n) },
        { GrowthLaw.None, n => 10 * Math.Pow(n, 0.6) * (n is 256 or 64 ? 1.6 : 1) },
    };

    [Theory]
    [MemberData(nameof(Laws))]
    public void The_simplest_law_that_fits_is_named_in_19_of_20_runs(GrowthLaw law, Func<int, double> truth)
    {
        var simulator = Quiet with { Sizes = [16, 64, 256, 512, 1_024, 4_096], TimeAt = (_, size) => truth(size), Times = [1, 1],
            SittingDeviation = 0.01, Rounds = 4 };

        var right = Enumerable.Range(0, 100).Count(seed => Examine(simulator, seed: seed).Growth[0].Variants[1].Law!.Law == law);

        Assert.InRange(right, 95, 100);
    }

    [Fact]
    public void A_step_is_told_with_its_place_and_its_height()
    {
        var simulator = Quiet with { Sizes = [16, 64, 256, 512, 1_024, 4_096], TimeAt = (_, size) => size <= 512
            ? 3 + size
            : 3 + (2 * size), Times = [1, 1] };

        var law = Examine(simulator).Growth[0].Variants[0].Law!;

        Assert.Equal((512, 2.0), (law.StepAfter!.Value, Math.Round(law.StepFactor, 1)));
    }

    [Fact]
    public void With_two_sizes_there_is_an_exponent_and_no_law()
    {
        var growth = Examine(Quiet with { Sizes = [10, 1_000], TimeAt = (variant, size) => variant == 0 ? size : 30 }).Growth[0];

        Assert.Equal([1.0, 0.0], growth.Variants.Select(variant => Math.Round(variant.Exponent.Estimate, 2) + 0.0));
        Assert.All(growth.Variants, variant => Assert.Null(variant.Law));
    }

    [Fact]
    public void Bands_say_which_to_take_up_to_where_they_cross()
    {
        // A scan of n, an index of 40, and another that nothing separates from it.
        var simulator = Quiet with { Sizes = [4, 16, 64, 256, 1_024], TimeAt = (variant, size) => variant == 0
            ? size
            : 40, Times = [1, 1, 1], Bytes = new long[3] };

        var growth = Examine(simulator).Growth[0];

        Assert.Equal([(4, 16), (64, 1_024)], growth.Bands.Select(band => (band.FirstSize, band.LastSize)));
        Assert.Equal(0, growth.Bands[0].Row);
        Assert.Equal([1, 2], growth.Bands[1].Ties.Append(growth.Bands[1].Row).Order());
        Assert.InRange(growth.Bands[0].Until!.Value.Estimate, 39, 41);
        Assert.Equal([(0, 1), (0, 2)], growth.Crossovers.Select(crossover => (crossover.Below, crossover.Above)));
        Assert.All(growth.Crossovers, crossover => Assert.Equal((16, 64), (crossover.LastBelow, crossover.FirstAbove)));
    }

    [Fact]
    public void What_is_faster_everywhere_crosses_nowhere()
    {
        var growth = Examine(Quiet with { Sizes = [4, 16, 64], TimeAt = (variant, size) => (variant + 1) * size }).Growth[0];

        Assert.Empty(growth.Crossovers);
        Assert.Equal((0, 4, 64, null), Assert.Single(growth.Bands) is var band
            ? (band.Row, band.FirstSize, band.LastSize, band.Until)
            : default);
    }

    [Fact]
    public void A_dial_has_a_best_setting_ties_and_losses_and_may_move_with_the_input()
    {
        // Setting 8 is best on 10 lamps and level with 4 on 1,000; 2 is bad everywhere.
        double At(int variant, int size) => variant switch { 0 => 500, 1 => 150, 2 => size == 10 ? 110 : 100, _ => 100 };
        RunSimulator Dialled(Func<int, int, double> times) => Quiet with
        {
            Sizes = [10, 1_000], TimeAt = times, Times = [1, 1, 1, 1], Bytes = new long[4],
            Shape = study => study with { Variants = [.. study.Variants.Select((row, index) => index == 0
                ? row
                : row with { Variant = "blocked", Settings = [new("block", 1 << index)] })] },
        };

        var dial = Assert.Single(Examine(Dialled(At)).Dials);
        var moving = Assert.Single(Examine(Dialled((variant, size) => At(variant, size) * (variant == 3 && size == 1_000 ? 2 : 1))).Dials);

        Assert.Equal([false, false, true], dial.Inputs[0].Settings.Select(setting => setting.IsTied));
        Assert.Equal([false, true, true], dial.Inputs[1].Settings.Select(setting => setting.IsTied));
        Assert.Equal(1.5, dial.Inputs[1].Settings[0].TimeRatio.Estimate, 0.02);
        Assert.Equal(8, Assert.Single(dial.BestEverywhere)[0].Value);
        Assert.Empty(moving.BestEverywhere);
    }

    [Theory]
    [InlineData(1_000, 20, BreakEvenAnswer.After)]
    [InlineData(60, 20, BreakEvenAnswer.Always)]
    [InlineData(1_000, 130, BreakEvenAnswer.Never)]
    [InlineData(1_000, 100, BreakEvenAnswer.Unclear)]
    public void Preparing_pays_after_some_uses_at_once_never_or_cannot_be_told(double prepare, double use, BreakEvenAnswer answer)
    {
        var found = Assert.Single(Examine(Prepared(Quiet, prepare, use)).Inputs[0].BreakEvens);

        Assert.Equal(answer, found.Answer);
        Assert.Equal((2, 0), (found.Row, found.Other));
        Assert.True(answer is not BreakEvenAnswer.After || (found.Uses.Lower < 12.5 && found.Uses.Upper > 12.5));
    }

    [Fact]
    public void Limits_are_kept_by_the_upper_end_of_the_interval()
    {
        var simulator = Quiet with
        {
            Bytes = [24, 0],
            Shape = study => study with
            {
                Limits =
                [
                    new() { Nanoseconds = 200, ProcessorNanoseconds = 90, Variant = "v0" },
                    new() { Nanoseconds = 100, Variant = "v1", Input = "a lamp" },
                    new() { AllocatedBytes = 0 },
                ],
            },
        };

        var findings = Examine(simulator with { Times = [100, 99.9] });
        var limits = findings.Inputs[0].Limits;

        Assert.Equal(
            [(0, LimitQuantity.Time, LimitState.Kept), (0, LimitQuantity.ProcessorTime, LimitState.Broken),
                (1, LimitQuantity.Time, LimitState.Unsure), (0, LimitQuantity.Bytes, LimitState.Broken),
                (1, LimitQuantity.Bytes, LimitState.Kept)],
            limits.Select(limit => (limit.Row, limit.Quantity, limit.State)));
        Assert.Equal(0.5, limits[0].ShareUsed, 0.02);
        Assert.Equal([double.PositiveInfinity, 0], limits.Skip(3).Select(limit => limit.ShareUsed));
        Assert.True(findings.IsAnyLimitMissed);
        Assert.All(Examine(simulator with { Sittings = 1 }).Inputs[0].Limits, limit => Assert.Equal(LimitState.Unknown, limit.State));
    }

    [Fact]
    public void A_payoff_carries_the_interval_of_its_contrast_and_tells_the_other_way_round()
    {
        var contrast = new Contrast
        {
            TimeRatio = new(0.5, 0.4, 0.6, 0.95), Verdict = Verdict.Faster,
            SavedNanosecondsPerCall = new(1_000, 800, 1_200, 0.95), SavedProcessorNanosecondsPerCall = new(500, 400, 600, 0.95),
        };

        var payoff = Payoff.Of(contrast, new() { CallsPerSecond = 2_000, Callers = 5, PricePerProcessorHour = 0.1 });
        var loss = Payoff.Of(contrast with { SavedNanosecondsPerCall = new(-10, -20, 5, 0.95) }, null);

        // 1 µs × 10,000 calls a second is 1 % of a day.
        Assert.Equal((864, 864 * 0.8, 864 * 1.2),
            (payoff.SecondsPerDaySaved!.Value.Estimate, Math.Round(payoff.SecondsPerDaySaved.Value.Lower, 6),
                Math.Round(payoff.SecondsPerDaySaved.Value.Upper, 6)));
        Assert.Equal(432.0 * 365 / 3_600 * 0.1, payoff.MoneyPerYearSaved!.Value.Estimate, 9);
        Assert.Equal(432.0 * 365, payoff.ProcessorSecondsPerYearSaved!.Value.Estimate, 6);
        Assert.Equal((1e6, 1e9 / 1_200, 1.25e6),
            (payoff.CallsPerDayForASecond.Estimate, payoff.CallsPerDayForASecond.Lower, payoff.CallsPerDayForASecond.Upper));
        Assert.Null(loss.SecondsPerDaySaved);
        Assert.False(loss.CallsPerDayForASecond.IsKnown);
    }

    [Fact]
    public void The_stage_that_makes_the_difference_comes_first()
    {
        // 100 against 60 ns: the look-up shrinks from 70 to 35 ns, the rest by 5.
        var run = Simulated(Quiet with { Times = [100, 60] }, 1);
        var study = run.Studies[0] with
        {
            Sittings = [.. run.Studies[0].Sittings.Select(sitting => sitting with
            {
                StageCosts = [new() { InsideNanoseconds = 0, OutsideNanoseconds = 0, UnreadNanoseconds = 0 }],
                StageReadings = [.. Enumerable.Range(0, sitting.Cells.Count).Where(cell => sitting.Cells[cell].Kind == CellKind.Variant)
                    .Select(cell => new StageReading
                {
                    Cell = cell, Calls = 1_000, ElapsedNanoseconds = sitting.Cells[cell].Variant == 0 ? 100_000 : 60_000,
                    Stages = [new() { Stage = "split", Count = 1_000, ElapsedNanoseconds = 20_000 },
                        new() { Stage = "look up", Count = 1_000, ElapsedNanoseconds = sitting.Cells[cell].Variant == 0
                            ? 70_000
                            : 35_000 }],
                })],
            })],
        };

        var stages = Analyst.Examine(run with { Studies = [study] }, AnalysisOptions.Default)[0].Inputs[0].Cells[1].Contrast!.Stages;

        Assert.Equal(["look up", null, "split"], stages.Select(stage => stage.Stage));
        Assert.Equal([0.875, 0.125, 0], stages.Select(stage => stage.ShareOfDifference.Estimate)
            .Select(share => Math.Round(share, 2) is 0.88 or 0.87 ? 0.875 : Math.Round(Math.Abs(share) * 8) / 8));
        Assert.InRange(stages[0].SavedNanosecondsPerCall.Estimate, 34, 36);
    }

    [Fact]
    public void Sittings_with_the_collector_kept_out_stand_beside_the_others()
    {
        var (free, held) = (Simulated(Quiet with { Times = [100, 50] }, 1), Simulated(Quiet with { Times = [80, 50] }, 2));
        var both = free with
        {
            Studies = [free.Studies[0] with
            {
                Sittings =
                [
                    .. free.Studies[0].Sittings,
                    .. held.Studies[0].Sittings.Select(sitting => sitting with
                    {
                        Readings = [.. sitting.Readings.Select(reading => reading with { IsCollectionHeld = true })],
                    }),
                ],
            }],
        };

        var findings = Analyst.Examine(both, AnalysisOptions.Default)[0];
        var contrast = findings.Inputs[0].Cells[1].Contrast!;

        Assert.Equal((6, 6), (findings.Sittings, findings.SittingsHeld));
        Assert.Equal(0.5, contrast.TimeRatio.Estimate, 0.01);
        Assert.Equal(0.625, contrast.Held!.TimeRatio.Estimate, 0.01);
        Assert.Equal(Math.Log(0.625) / Math.Log(0.5), contrast.Held.ShareRemaining, 0.02);
        Assert.True(contrast.Held.IsChanged);
    }

    [Fact]
    public void A_ranking_that_turns_round_is_told_by_the_pair_with_most_at_stake()
    {
        double At(int variant, int size) => variant switch { 0 => size, 1 => 40, _ => 41.0 * Math.Sqrt(size / 40.0) };
        var findings = Examine(Quiet with { Sizes = [4, 1_024], TimeAt = At, Times = [1, 1, 1], Bytes = new long[3] });

        var flip = findings.Flip!;

        Assert.Equal(("v1", "v0", 3), (flip.Variant, flip.Other, flip.Pairs));
        Assert.Equal(["1,024 lamps"], flip.FasterAt);
        Assert.Equal(["4 lamps"], flip.SlowerAt);
        Assert.Null(Examine(Quiet with { Sizes = [4, 64], TimeAt = (variant, size) => (variant + 1) * size }).Flip);
    }

    [Fact]
    public void Members_of_a_family_are_held_against_each_other()
    {
        StudyFindings Member(string element, double[] times)
            => Examine(Quiet with { Times = times, Shape = study => study with { Family = "sums", Element = element } });

        Assert.Equal(["double, a lamp"], FlipFinder.Find([Member("int", [100, 50]), Member("double", [100, 150])])!.SlowerAt);
        Assert.Null(FlipFinder.Find([Member("int", [100, 50]), Member("double", [100, 60])]));
    }

    [Fact]
    public void An_unclear_verdict_says_how_many_sittings_would_settle_it_and_so_many_do()
    {
        var simulator = Quiet with { Times = [100, 101.5], SittingDeviation = 0.01 };
        var needed = Enumerable.Range(0, 40).Select(seed => Examine(simulator, seed: seed).Inputs[0].Cells[1].Contrast!)
            .Where(contrast => contrast.Verdict == Verdict.Unclear).Select(contrast => contrast.SittingsToDecide).OfType<int>().Order()
            .ToList();

        var typical = needed[needed.Count / 2];
        var settled = Enumerable.Range(0, 40)
            .Count(seed => Examine(simulator with { Sittings = 2 * typical },
                seed: seed).Inputs[0].Cells[1].Contrast!.Verdict != Verdict.Unclear);

        Assert.InRange(typical, 7, 200);
        Assert.InRange(settled, 24, 40);
    }

    [Fact]
    public void Impossible_readings_are_left_out_and_told_and_missing_ones_are_told()
    {
        var run = Simulated(Quiet with { Times = [100, 50] }, 1);
        StudyFindings Altered(Func<Reading, Reading?> alter) => Analyst.Examine(run with
        {
            Studies = [run.Studies[0] with { Sittings = [.. run.Studies[0].Sittings.Select(sitting => sitting.Number > 1
                ? sitting
                : sitting with { Readings = [.. sitting.Readings.Select(alter).OfType<Reading>()] })] }],
        }, AnalysisOptions.Default)[0];

        var far = Altered(reading => reading.Round == 3 && reading.Cell == 2 ? reading with { Round = int.MaxValue, Cell = 99 } : reading);
        var gone = Altered(reading => reading.Cell == 3 ? null : reading);

        Assert.Equal(0.5, far.Inputs[0].Cells[1].Contrast!.TimeRatio.Estimate, 0.02);
        Assert.Contains(far.Caveats, caveat => caveat.Name == "impossible-readings"
            && caveat.Evidence.Contains("sitting 1, reading", StringComparison.Ordinal)
            && caveat.Evidence.Contains("cell 99, where there are", StringComparison.Ordinal));
        Assert.Contains(gone.Caveats, caveat => caveat.Name == "readings-missing"
            && caveat.Evidence.Contains("in sitting 1", StringComparison.Ordinal));
    }

    private static RunSimulator Prepared(RunSimulator simulator, double prepare, double use) => PreparedStudy.Of(simulator, prepare, use);

    private static Run Simulated(RunSimulator simulator, int seed) => simulator.Make(seed);

    private static StudyFindings Examine(RunSimulator simulator, AnalysisOptions? options = null, int seed = 1)
        => Analyst.Examine(Simulated(simulator, seed), options ?? AnalysisOptions.Default)[0];
}
