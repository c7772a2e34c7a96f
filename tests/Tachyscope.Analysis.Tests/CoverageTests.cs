using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Uses;

namespace Tachyscope.Analysis.Tests;

/// <summary>How often intervals hold the truth and verdicts are false, in a thousand runs with the noise of a real machine.</summary>
public sealed class CoverageTests
{
    private const int Runs = 1_000;

    // Of up to forty sittings each, looked at again and again.
    private const int RunsThatEndedThemselves = 400;

    // Of six sittings each, two of which tell of the quiet core.
    private const int RunsOfFew = 400;
    private const double Least = 0.9;

    // Of ten variants each, as large as ten of the others.
    private const int RunsOfFamilies = 400;

    // What is told beside them costs a seventh of the time and changes nothing in them.
    private static readonly AnalysisOptions ContrastsOnly = new() { AreContrastsOnly = true };

    private static readonly RunSimulator Noisy = new() { Rounds = 6, OutlierShare = 0.1, Slowing = 0.2, Drift = 0.1, SlowModeShare = 0.3 };

    private static readonly RunSimulator Shared = Noisy with
    {
        Times = [100, 98], Rounds = 24, SharedShare = 0.3, CallsPerReading = 500, SlowModeShare = 0,
    };

    [Fact]
    public void A_contrast()
        => Holds(Noisy with { Times = [100, 98] }, 0.98, findings => findings.Inputs[0].Cells[1].Contrast!.TimeRatio);

    // By the moments in which the core was the run's own, however much of it was not, and although the variants suffer differently; and
    // by how much it was shared, where sittings have no such moments.
    [Theory]
    [InlineData(0.3)]
    [InlineData(0.6)]
    [InlineData(0.85)]
    public void A_contrast_on_a_core_that_is_shared_now_and_then(double share)
        => Holds(Shared with { SharedShare = share }, 0.98, findings => findings.Inputs[0].Cells[1].Contrast!.TimeRatio);

    // Of what takes longer than quiet moments last few rounds find the core quiet, and in one sitting of four none.
    [Theory]
    [InlineData(0.85, 0.2)]
    [InlineData(0.85, 0)]
    [InlineData(0.3, 0.2)]
    public void A_contrast_of_long_operations_on_a_core_that_is_mostly_shared(double share, double slowing)
        => Holds(
            Shared with { SharedShare = share, Rounds = 12, CallsPerReading = 100_000, Slowing = slowing }, 0.98,
            findings => findings.Inputs[0].Cells[1].Contrast!.TimeRatio);

    [Theory]
    [InlineData(0.3)]
    [InlineData(0.85)]
    public void A_contrast_of_code_placed_anew_in_every_copy(double share)
        => Holds(
            Shared with { Copies = 4, CopyDeviation = 0.03, SharedShare = share }, 0.98,
            findings => findings.Inputs[0].Cells[1].Contrast!.TimeRatio);

    // Between sittings that had the core to themselves and others that never had: two of six are few.
    [Theory]
    [InlineData(6)]
    [InlineData(12)]
    public void A_time_and_a_contrast_of_which_a_third_of_the_sittings_found_a_quiet_core(int sittings)
    {
        var simulator = Shared with
        {
            Sittings = sittings, SittingDeviation = 0.02, SharedShare = 0.5, SharedShareOf = number => number % 3 == 1 ? 0.01 : 0.98,
        };

        Holds(simulator, 100,
            findings => findings.Inputs[0].Cells[0].NanosecondsPerCall.Through(time => time / findings.NanosecondsPerLink), null, Least,
            RunsOfFew);
        Holds(simulator, 0.98, findings => findings.Inputs[0].Cells[1].Contrast!.TimeRatio, null, Least, RunsOfFew);
    }

    // Who only computes slows others less than who goes through memory, and half of the sittings shared theirs with the one or the other.
    [Fact]
    public void A_time_of_which_each_sitting_had_another_stranger_beside_it()
        => Holds(
            Shared with
            {
                Sittings = 12, SharedShare = 0.5, SharedShareOf = number => number % 2 == 0 ? 0.02 : number % 3 == 0 ? 0.5 : 0.98,
                SharedFactorOf = number => number % 4 == 1 ? 0.8 : 1.2, SlowModeShare = 0, OutlierShare = 0,
            },
            100, findings => findings.Inputs[0].Cells[0].NanosecondsPerCall.Through(time => time / findings.NanosecondsPerLink), null,
            Least, RunsOfFew);

    [Fact]
    public void What_sharing_the_core_costs()
        => Holds(
            Shared with { SharedShare = 0.5 }, 1.2,
            findings => findings.Inputs[0].Cells[1].SharedTimeRatio ?? Interval.Unknown(0.95));

    // Times are told at the median speed of the machine, and medians of readings of which some are slow lie a little above their time.
    [Fact]
    public void The_time_saved()
        => Holds(Noisy with { Times = [100, 60], SlowModeShare = 0, OutlierShare = 0, Slowing = 0, Drift = 0 }, 40,
            findings => findings.Inputs[0].Cells[1].Contrast!.SavedNanosecondsPerCall);

    [Fact]
    public void An_exponent()
        => Holds(Noisy with { Sizes = [16, 64, 256, 1_024], TimeAt = (_, size) => 5 * Math.Pow(size, 0.8) }, 0.8,
            findings => findings.Growth[0].Variants[1].Exponent, AnalysisOptions.Default);

    [Fact]
    public void A_crossover()
        => Holds(
            Noisy with { Sizes = [25, 30, 36, 43, 52, 62], TimeAt = (variant, size) => variant == 0
                ? 4.0 * size
                : 4.0 * 40 * Math.Sqrt(size / 40.0) },
            40, findings => Assert.Single(findings.Growth[0].Crossovers).Size, AnalysisOptions.Default);

    // Where sizes lie far apart, what is known of the times between them widens the interval; never does it hold less.
    [Fact]
    public void A_crossover_between_sizes_far_apart_of_times_with_a_fixed_part()
    {
        var simulator = Noisy with { Sizes = [8, 512], TimeAt = (variant, size) => variant == 0 ? 20.0 + size : 60 };

        var held = Enumerable.Range(0, Runs).AsParallel()
            .Count(run => Has(Assert.Single(Analyst.Examine(simulator.Make(run))[0].Growth[0].Crossovers).Size, 40));

        Assert.InRange((double)held / Runs, 0.93, 1);
    }

    [Fact]
    public void A_break_even()
        => Holds(PreparedStudy.Of(Noisy, 1_000, 60), 25,
            findings => findings.Inputs[0].BreakEvens[0] is { Answer: BreakEvenAnswer.After } found ? found.Uses : Interval.Unknown(0.95),
            AnalysisOptions.Default);

    // What Holm's steps leave of a family's levels is never below that of a single contrast.
    [Fact]
    public void Every_contrast_of_a_family_of_which_all_differ()
    {
        double[] times = [100, 98, 96, 94, 92];
        var held = new int[times.Length];
        for (var run = 0; run < Runs; run++)
        {
            var cells = Examine(Noisy with { Times = times, Bytes = new long[5] }, run).Inputs[0].Cells;
            for (var cell = 1; cell < times.Length; cell++)
            {
                held[cell] += Has(cells[cell].Contrast!.TimeRatio, times[cell] / 100) ? 1 : 0;
            }
        }

        Assert.All(held.Skip(1), count => Assert.InRange((double)count / Runs, 0.94, 1));
    }

    // Some spread eight times as much as others, with outliers, two heaps and drift in all.
    [Fact]
    public void All_ends_that_a_table_quotes_hold_together_in_19_of_20_runs()
    {
        var simulator = Noisy with { Times = [100, 99, 101, 97, 150, 100], Bytes = new long[6], Unrest = [1, 0.5, 1, 2, 4, 4] };

        var held = Enumerable.Range(0, Runs).AsParallel().Count(run => Examine(simulator, run).Inputs[0].Cells.Skip(1)
            .All(cell => Has(cell.Contrast!.TimeRatio, simulator.Times[cell.Row] / 100)));

        Assert.InRange((double)held / Runs, 0.94, 1);
    }

    [Fact]
    public void All_pairs_of_a_ranking_hold_together_in_19_of_20_runs()
    {
        var simulator = Noisy with { Times = [100, 99, 103, 120], Bytes = new long[4], Unrest = [1, 1, 2, 4] };

        var options = ContrastsOnly with { Against = Against.Each };
        var held = Enumerable.Range(0, Runs)
            .AsParallel().Count(run => Analyst.Examine(simulator.Make(run), options)[0].Inputs[0].Pairs
            .All(pair => Has(pair.TimeRatio, simulator.Times[pair.Row] / simulator.Times[pair.Other])));

        Assert.InRange((double)held / Runs, 0.94, 1);
    }

    // Sittings come until the interval is narrow, as with --precision.
    [Theory]
    [InlineData(0.004)]
    [InlineData(0.006)]
    [InlineData(0.01)]
    public void A_contrast_that_ended_when_it_was_narrow(double precision)
    {
        var simulator = Noisy with { Times = [100, 98], Sittings = 40, Rounds = 2, SlowModeShare = 0, OutlierShare = 0,
            SittingDeviation = 0.006 };
        var held = Enumerable.Range(0, RunsThatEndedThemselves).AsParallel().Count(seed =>
        {
            var run = simulator.Make(seed) with { Plan = new() { PrecisionShare = precision } };
            var contrast = Enumerable.Range(3, 18).Select(half => Analyst.Examine(
                    run with { Studies = [run.Studies[0] with { Sittings = [.. run.Studies[0].Sittings.Take(2 * half)] }] },
                        new() { AreContrastsOnly = true })[0])
                .First(findings => findings.IsPrecise(precision) || findings.Sittings == 40).Inputs[0].Cells[1].Contrast!;
            return Has(contrast.TimeRatio, 0.98);
        });

        Assert.InRange((double)held / RunsThatEndedThemselves, 0.93, 0.99);
    }

    [Fact]
    public void Of_ten_equal_variants_none_is_called_faster_or_slower_in_19_of_20_runs()
        => FalseVerdicts(Noisy with { Times = [.. Enumerable.Repeat(100.0, 10)], Bytes = new long[10] }, ContrastsOnly,
            RunsOfFamilies, contrast => contrast.Verdict is Verdict.Faster or Verdict.Slower);

    [Fact]
    public void The_same_against_each_other()
        => FalseVerdicts(Noisy with { Times = [.. Enumerable.Repeat(100.0, 10)], Bytes = new long[10] },
            ContrastsOnly with { Against = Against.Each }, RunsOfFamilies,
            contrast => contrast.Verdict is Verdict.Faster or Verdict.Slower);

    // Schuirmann's tests: what differs by just the margin is called the same no more often than that.
    [Fact]
    public void What_differs_by_the_margin_is_called_the_same_in_at_most_one_run_of_twenty()
        => FalseVerdicts(Noisy with { Times = [100, 101], SittingDeviation = 0.001, SlowModeShare = 0, Rounds = 12 },
            ContrastsOnly, Runs, contrast => contrast.Verdict == Verdict.Same);

    private static void FalseVerdicts(RunSimulator simulator, AnalysisOptions options, int runs, Func<Contrast, bool> isFalse)
    {
        var wrong = Enumerable.Range(0, runs).AsParallel()
            .Count(run => Analyst.Examine(simulator.Make(run), options)[0].Inputs[0].Cells.Skip(1).Any(cell => isFalse(cell.Contrast!)));

        Assert.InRange((double)wrong / runs, 0, 0.05);
    }

    private static void Holds(
        RunSimulator simulator, double truth, Func<StudyFindings, Interval> interval, AnalysisOptions? options = null,
        double least = 0.93, int runs = Runs)
    {
        var held = Enumerable.Range(0, runs).AsParallel()
            .Count(run => Has(interval(Analyst.Examine(simulator.Make(run), options ?? ContrastsOnly)[0]), truth));

        Assert.InRange((double)held / runs, least, 0.97);
    }

    private static bool Has(Interval interval, double truth) => interval.Lower <= truth && interval.Upper >= truth;

    private static StudyFindings Examine(RunSimulator simulator, int seed)
        => Analyst.Examine(simulator.Make(seed), ContrastsOnly)[0];
}
