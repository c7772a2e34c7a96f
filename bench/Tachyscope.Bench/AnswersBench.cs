using System.Collections.Concurrent;
using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Analysis.Tests;
using Tachyscope.Lab.Planning;
using Tachyscope.Runs;

namespace Tachyscope.Bench;

/// <summary>
/// How often intervals hold the truth and verdicts are false in simulated runs, and what resampling sittings would give instead.
/// </summary>
internal static class AnswersBench
{
    private const int Runs = 4_000;
    private const int ResampledRuns = 500;

    // What lies near its bound is counted more often.
    private const int RunsAtTheEdge = 16_000;
    private const int Resamples = 200;
    private const double Level = 0.95;

    private static readonly RunSimulator Noisy = new() { Rounds = 6, OutlierShare = 0.1, Slowing = 0.2, Drift = 0.1, SlowModeShare = 0.3 };

    public static int Run()
    {
        var ten = Noisy with { Times = [.. Enumerable.Repeat(100.0, 10)], Bytes = new long[10] };
        bool[] held =
        [
            Covers("a contrast", Noisy with { Times = [100, 98] }, 0.98, findings => findings.Inputs[0].Cells[1].Contrast!.TimeRatio),
            Covers("an exponent", Noisy with { Sizes = [16, 64, 256, 1_024], TimeAt = (_, size) => 5 * Math.Pow(size, 0.8) }, 0.8,
                findings => findings.Growth[0].Variants[1].Exponent),
            Covers("a crossover", Crossing([25, 30, 36, 43, 52, 62]), 40,
                findings => findings.Growth[0].Crossovers.Select(crossover => crossover.Size).FirstOrDefault(Interval.Unknown(Level))),
            Covers("a break-even", PreparedStudy.Of(Noisy, 1_000, 60), 25, findings => findings.Inputs[0].BreakEvens[0].Uses),
            HoldTogether("all ends of a table of six", Uneven, AnalysisOptions.Default),
            HoldTogether("all pairs of them", Uneven, new() { Against = Against.Each }),
            Stopped("a contrast that ended when it was narrow", isMadeUpFor: true),
            Stopped("the same, read as if it had not", isMadeUpFor: false),
            WentOn("a contrast that got more sittings where it was wide", Noisy),
            WentOn("the same, spread just as wide as that", Noisy with { SlowModeShare = 0, OutlierShare = 0, SittingDeviation = 0.018 },
                RunsAtTheEdge),
            Rare("ten equal variants, one faster or slower", ten, AnalysisOptions.Default,
                contrast => contrast.Verdict is Verdict.Faster or Verdict.Slower),
            Rare("the same against each other", ten, new() { Against = Against.Each },
                contrast => contrast.Verdict is Verdict.Faster or Verdict.Slower),
            Rare("different by the margin, called the same",
                Noisy with { Times = [100, 101], SittingDeviation = 0.001, SlowModeShare = 0, Rounds = 12 }, AnalysisOptions.Default,
                contrast => contrast.Verdict == Verdict.Same),
        ];
        Resample("a crossover", Crossing([25, 30, 36, 43, 52, 62]), 40,
            findings => findings.Growth[0].Crossovers.Select(crossover => crossover.Size.Estimate).FirstOrDefault(double.NaN));
        Resample("a break-even", PreparedStudy.Of(Noisy, 1_000, 60), 25, findings => findings.Inputs[0].BreakEvens[0].Uses.Estimate);
        return held.All(isHeld => isHeld) ? 0 : 1;
    }

    private static RunSimulator Crossing(int[] sizes)
        => Noisy with { Sizes = sizes, TimeAt = (variant, size) => variant == 0 ? 4.0 * size : 4.0 * 40 * Math.Sqrt(size / 40.0) };

    private static bool Covers(string what, RunSimulator simulator, double truth, Func<StudyFindings, Interval> interval)
    {
        var share = Share(run => interval(Analyst.Examine(simulator.Make(run), AnalysisOptions.Default)[0]) is var found
            && found.Lower <= truth && found.Upper >= truth);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"95 % intervals held the truth  {share,7:P1}  {what}"));
        return share is >= 0.93 and <= 0.97;
    }

    // Some spread eight times as much as others.
    private static RunSimulator Uneven
        => Noisy with { Times = [100, 99, 101, 97, 150, 100], Bytes = new long[6], Unrest = [1, 0.5, 1, 2, 4, 4] };

    private static bool HoldTogether(string what, RunSimulator simulator, AnalysisOptions options)
    {
        var share = Share(run => Analyst.Examine(simulator.Make(run), options)[0].Inputs[0].Cells.Skip(1).All(cell =>
            cell.Contrast!.TimeRatio is var found && found.Lower <= simulator.Times[cell.Row] / 100
                && found.Upper >= simulator.Times[cell.Row] / 100));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"all held the truth at once     {share,7:P1}  {what}"));
        return share >= 0.94;
    }

    // Two sittings after two, until the interval is as narrow as was asked for; fewer runs, since each is looked at up to eighteen times.
    private static bool Stopped(string what, bool isMadeUpFor)
    {
        const double Precision = 0.006;
        var simulator = Noisy with { Times = [100, 98], Sittings = 40, Rounds = 2, SlowModeShare = 0, OutlierShare = 0,
            SittingDeviation = 0.006 };
        var held = Enumerable.Range(0, ResampledRuns).AsParallel().Count(seed =>
        {
            var run = simulator.Make(seed) with { Plan = new() { PrecisionShare = isMadeUpFor ? Precision : null } };
            var found = Enumerable.Range(3, 18).Select(half => Analyst.Examine(
                    run with { Studies = [run.Studies[0] with { Sittings = [.. run.Studies[0].Sittings.Take(2 * half)] }] },
                    new() { AreContrastsOnly = true })[0])
                .First(findings => findings.IsPrecise(Precision) || findings.Sittings == 40).Inputs[0].Cells[1].Contrast!.TimeRatio;
            return found.Lower <= 0.98 && found.Upper >= 0.98;
        });
        var share = (double)held / ResampledRuns;
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"95 % intervals held the truth  {share,7:P1}  {what}"));
        return !isMadeUpFor || share >= 0.94;
    }

    // As a run without a time does: the usual number of sittings, looked at once, and then up to twice as many.
    private static bool WentOn(string what, RunSimulator spread, int runs = Runs)
    {
        var simulator = spread with { Times = [100, 98], Sittings = Schedule.MostWhereWide };
        var sittings = new ConcurrentBag<int>();
        var share = Share(seed =>
        {
            var run = simulator.Make(seed);
            Run Begun(int held) => run with { Studies = [run.Studies[0] with { Sittings = [.. run.Studies[0].Sittings.Take(held)] }] };
            var schedule = new Schedule(withinSeconds: null, seeksPrecision: false);
            var usual = Begun(Schedule.DefaultSittings);
            var worth = TargetAnalyst.Examine(usual, usual.Studies[0], AnalysisOptions.Default).SittingsWorth;
            schedule.Reconsider(Schedule.DefaultSittings, worth, atOnce: 2, elapsedSeconds: 1);
            sittings.Add(schedule.Sittings);
            var found = Analyst.Examine(Begun(schedule.Sittings), AnalysisOptions.Default)[0].Inputs[0].Cells[1].Contrast!.TimeRatio;
            return found.Lower <= 0.98 && found.Upper >= 0.98;
        }, runs);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"95 % intervals held the truth  {share,7:P1}  {what} ({sittings.Average():0.0} sittings)"));
        return share is >= 0.93 and <= 0.97;
    }

    private static bool Rare(string what, RunSimulator simulator, AnalysisOptions options, Func<Contrast, bool> isFalse)
    {
        var share = Share(run => Analyst.Examine(simulator.Make(run), options)[0].Inputs[0].Cells.Skip(1)
            .Any(cell => isFalse(cell.Contrast!)));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"false verdicts in runs         {share,7:P1}  {what}"));
        return share <= 0.05;
    }

    private static double Share(Func<int, bool> happens, int runs = Runs)
        => (double)Enumerable.Range(0, runs).AsParallel().Count(happens) / runs;

    // The usual way with few independent values: draw as many sittings as there are, again and again, and take the middle of what comes
    // out.
    private static void Resample(string what, RunSimulator simulator, double truth, Func<StudyFindings, double> estimate)
    {
        var held = Enumerable.Range(0, ResampledRuns).AsParallel().Count(seed =>
        {
            var run = simulator.Make(seed);
            var random = new Random(seed);
            var sittings = run.Studies[0].Sittings;
            double[] found = [.. Enumerable.Range(0, Resamples).Select(_ =>
            {
                SittingRecord[] again = [.. sittings.Select(_ => sittings[random.Next(sittings.Count)])];
                var drawn = run with { Studies = [run.Studies[0] with { Sittings = again }] };
                return estimate(Analyst.Examine(drawn, AnalysisOptions.Default)[0]);
            })];
            return SampleStatistics.Quantile(found, (1 - Level) / 2) <= truth && SampleStatistics.Quantile(found, (1 + Level) / 2) >= truth;
        });
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"95 % intervals held the truth  {(double)held / ResampledRuns,7:P1}  {what}, by percentiles of resampled sittings instead"));
    }
}
