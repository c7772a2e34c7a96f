using System.Diagnostics;
using System.Globalization;
using System.Runtime.CompilerServices;
using MathNet.Numerics.Statistics;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Speeds;
using Tachyscope.Analysis.Tests;
using Tachyscope.Bench.Studies;
using Tachyscope.Lab.Machines;
using Tachyscope.Runs;
using static Tachyscope.Bench.Printing;

namespace Tachyscope.Bench;

/// <summary>
/// Code that settles at several speeds, simulated and provoked; pools that change who is faster; walks that find their caches empty.
/// </summary>
internal static class SpeedsBench
{
    private const int SimulatedRuns = 500;
    private const int DefaultRuns = 10;
    private const int LineBytes = 128;
    private const int Lines = 128;
    private static readonly string[] Parts = ["simulated", "provoked", "explained", "small", "pools", "cold"];
    private static readonly string[] Turned = ["pool: guessed or not", "pool: table or steps"];

    /// <summary>Runs one part, or all of them, and prints the figures.</summary>
    /// <param name="part">One of its parts, or null for all.</param>
    /// <param name="runs">Runs of each provoked study; ten by default.</param>
    public static async Task<int> RunAsync(string? part, int runs)
    {
        if (part is not null && !Parts.Contains(part))
        {
            Console.Error.WriteLine($"\"{part}\" is no part of speeds: {string.Join(", ", Parts)}, or none for all.");
            return 2;
        }

        runs = runs > 0 ? runs : DefaultRuns;
        var claims = new List<Claim>();
        bool Has(string one) => part is null || part == one;
        claims.AddRange(Has("simulated") ? Simulated() : []);
        claims.AddRange(Has("provoked") ? await ProvokedAsync(runs) : []);
        claims.AddRange(Has("explained") ? await ExplainedAsync(runs) : []);
        claims.AddRange(Has("small") ? await SmallAsync(runs) : []);
        claims.AddRange(Has("pools") ? await PoolsAsync() : []);
        claims.AddRange(Has("cold") ? await ColdAsync() : []);
        foreach (var claim in claims)
        {
            Console.WriteLine($"{(claim.IsReached ? "reached" : "MISSED "),-8} {claim.What,-66} {claim.Figure,-10} asked: {claim.Asked}");
        }

        return claims.TrueForAll(claim => claim.IsReached) ? 0 : 1;
    }

    // Two heaps of the spread that layout has, one of which comes in 40 % of placements; and one heap.
    private static IEnumerable<Claim> Simulated()
    {
        var quiet = new RunSimulator
        {
            Times = [100, 95], Rounds = 12, SharedShare = 0.3, SharedFactors = [1.6, 1.3], CallsPerReading = 500, Slowing = 0,
        };
        Say($"{"sittings",9} {"gap",6} {"spread",8} {"found",8} {"holds",8} {"one taken for two",18}");
        var (found14, held, claimed) = (double.NaN, new List<double>(), new List<double>());
        foreach (var sittings in (int[])[6, 10, 14, 24])
        {
            foreach (var (factor, spread) in ((double, double)[])[(1.1, 0.003), (1.3, 0.003), (1.3, 0.01)])
            {
                var one = quiet with { Sittings = sittings, SittingDeviation = spread };
                var two = Cells(one with { SecondSpeeds = [(0, 1), (0.4, factor)] });
                var (found, ofOne) = (two.Where(cell => cell.Speeds.Count == 2).ToList(), Cells(one));
                var holds = found.SelectMany(cell => cell.Contrast!.Speeds)
                    .Select(speed => speed.TimeRatio.Through(ratio => ratio / (speed.Speed == 0 ? 0.95 : 0.95 * factor)))
                    .Select(ratio => ratio.Lower <= 1 && ratio.Upper >= 1 ? 1.0 : 0).DefaultIfEmpty(double.NaN).Average();
                var several = ofOne.Average(cell => cell.Speeds.Count > 0 ? 1.0 : 0);
                Say($"{sittings,9} {factor - 1,6:P0} {spread,8:P1} {(double)found.Count / two.Count,8:P0} {holds,8:P1} {several,18:P1}");
                found14 = (sittings, factor, spread) == (14, 1.3, 0.003) ? (double)found.Count / two.Count : found14;
                held.Add(holds);
                claimed.Add(several);
            }
        }

        yield return Claim.AtLeast("two speeds found in 14 sittings, simulated", found14, 0.9);
        yield return Claim.AtMost("one speed taken for two, simulated, at worst", claimed.Max(), 0.02);
        yield return Claim.AtLeast("contrasts at each speed that hold the truth, simulated, at worst",
            held.Where(double.IsFinite).Min(), 0.93);
    }

    private static List<CellFindings> Cells(RunSimulator simulator) => [.. Enumerable.Range(0, SimulatedRuns).AsParallel().Select(seed =>
    {
        var run = simulator.Make(seed);
        return Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default).Inputs[0].Cells[1];
    })];

    private static async Task<IReadOnlyList<Claim>> ProvokedAsync(int runs)
    {
        (string Study, SpeedCauseKind Cause)[] provoked =
            [("placed: compiled", SpeedCauseKind.Compilation), ("placed: data", SpeedCauseKind.DataPlacement)];
        var (found, named, all, ofOne, judged) = (0, 0, 0, 0, 0);
        for (var run = 1; run <= runs; run++)
        {
            foreach (var (study, cause) in provoked)
            {
                var (cell, _) = await SpeedsOfAsync(study, run);
                var isCalled = cell.SpeedCause?.Kind == cause;
                Say($"{run,3} {study,-18} {cell.Speeds.Count} speeds of {cell.Placements} processes {Causes(cell)}");
                (all, found, named) = (all + 1, found + (cell.Speeds.Count > 1 ? 1 : 0), named + (isCalled ? 1 : 0));
            }

            var (_, cells) = await SpeedsOfAsync("placed: one", run);
            (ofOne, judged) = (ofOne + cells.Count(cell => cell.Speeds.Count > 0), judged + cells.Count);
        }

        return
        [
            Claim.AtLeast("two speeds found where they were provoked", (double)found / all, 0.9),
            Claim.AtLeast("the provoked cause named", (double)named / all, 0.8),
            Claim.AtMost("several speeds claimed of a loop that has one", (double)ofOne / judged, 0.02),
        ];
    }

    // Of code that each process draws for itself, in which no switch of the runtime's has a part; two of them are tried.
    private static async Task<IReadOnlyList<Claim>> ExplainedAsync(int runs)
    {
        var lines = new List<string>();
        for (var run = 1; run <= runs; run++)
        {
            var text = await Instrument.ToolAsync("run", Instrument.StudiesAssembly, "--only", "placed: compiled", "--explain", "speeds",
                "--plain", "--seed", run.ToString(CultureInfo.InvariantCulture));
            string[] tried = [.. text.Split('\n').Where(line => line.Contains(" with Tiered", StringComparison.Ordinal))];
            Say($"{run,3} placed: compiled {(tried.Length == 0 ? "one speed this time" : "")}");
            Array.ForEach(tried, line => Console.WriteLine($"      {line[line.IndexOf("with", StringComparison.Ordinal)..]}"));
            lines.AddRange(tried);
        }

        double Share(string verdict) => (double)lines.Count(line => line.Contains(verdict, StringComparison.Ordinal)) / lines.Count;
        return
        [
            Claim.AtLeast("switches without a part in two speeds, told so", Share(": not supported"), 0.8),
            Claim.AtMost("the same, told to have one", Share(": supported"), 0.05),
        ];
    }

    private static string Causes(CellFindings cell) => cell.SpeedCause is not { } cause ? "no cause" : string.Create(
        CultureInfo.InvariantCulture,
        $"{cause.Kind} {string.Join(" | ", cause.Values.Select(values => string.Join(",", values)))}, {cause.Alike} of {cause.Placements}");

    private static async Task<(CellFindings Drawn, IReadOnlyList<CellFindings> All)> SpeedsOfAsync(string study, int seed)
    {
        var (run, _) = await Instrument.RunAsync(new RunPlan { Only = [study], Seed = seed, AreSpeedsSought = true });
        var cells = Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default).Inputs[0].Cells;
        return (cells[1], cells);
    }

    // A true 2 % in everyday code, in ten seconds.
    private static async Task<IReadOnlyList<Claim>> SmallAsync(int runs)
    {
        var (right, wrong) = (0, 0);
        for (var run = 1; run <= runs; run++)
        {
            var (findings, _, _, seconds) = await Instrument.MeasureAsync("placed: two percent", withinSeconds: 10, seed: run);
            var contrast = findings.Inputs[0].Cells[1].Contrast!;
            var ratio = contrast.TimeRatio;
            Say($"{run,3} two percent {ratio.Estimate - 1,8:P2} ± {ratio.HalfWidth,6:P2} {contrast.Verdict} in {seconds:0} s");
            (right, wrong) = (right + (contrast.Verdict == Verdict.Slower ? 1 : 0), wrong + (contrast.Verdict == Verdict.Faster ? 1 : 0));
        }

        return
        [
            Claim.AtLeast("a true 2 % found with its sign within 10 s", (double)right / runs, 0.9),
            Claim.AtMost("the same with the wrong sign", (double)wrong / runs, 0),
        ];
    }

    private static async Task<IReadOnlyList<Claim>> PoolsAsync()
    {
        var (run, _) = await Instrument.RunAsync(new RunPlan { Only = ["pool: *"], Seed = 1 });
        var (right, all) = (0, 0);
        foreach (var findings in Analyst.Examine(run, AnalysisOptions.Default))
        {
            var isTurned = findings.Caveats.Any(caveat => caveat.Name == "pool-turns-order");
            var ratios = findings.Inputs.Select(input => input.Cells[1].Contrast?.TimeRatio.Estimate ?? double.NaN).ToList();
            var turns = isTurned ? "turns the order" : "";
            Say($"{findings.Study.Name,-24} one × {ratios[0],6:0.000}   many × {ratios[1],6:0.000}   {turns}");
            (right, all) = (right + (isTurned == Turned.Contains(findings.Study.Name) ? 1 : 0), all + 1);
        }

        return [Claim.AtLeast("pools that change who is faster where they do, and nowhere else", (double)right / all, 1)];
    }

    private static async Task<IReadOnlyList<Claim>> ColdAsync()
    {
        var sizes = Surveyor.CacheSizes();
        // What a level takes is its users' doing, and another's the next minute.
        var before = Latencies(sizes);
        var (run, seconds) = await Instrument.RunAsync(new RunPlan { Only = ["cold: *"], Seed = 1, IsColdRead = true });
        var known = before.Zip(Latencies(sizes), (first, last) => (first + last) / 2).ToList();
        var (near, far) = (Cell(0), Cell(1));
        var claims = new List<Claim>();
        Say($"a walk of {Lines} lines in no order, {seconds:0} s; nanoseconds a line");
        for (var level = 0; level <= sizes.Count; level++)
        {
            // From the third level on what lies near by is fetched ahead.
            var cell = level < 2 ? near : far;
            var time = level == 0 ? cell.NanosecondsPerCall : cell.Cold[level - 1].NanosecondsPerCall;
            var walked = time.Estimate / (Lines - 1);
            var place = level == 0 ? "in the first cache" : level == sizes.Count ? "in memory"
                : string.Create(CultureInfo.InvariantCulture, $"in cache {level + 1}");
            var ratio = walked / known[level];
            Say($"  {place,-20} {walked,8:0.00}   known {known[level],8:0.00}   ratio {ratio:0.00}");
            claims.Add(new Claim($"a walk {place} against the machine's latency", ratio.ToString("0.00", CultureInfo.InvariantCulture),
                "0.85 to 1.15", ratio is >= 0.85 and <= 1.15));
        }

        return claims;

        CellFindings Cell(int study) => Analyst.Examine(run, run.Studies[study], AnalysisOptions.Default).Inputs[0].Cells[0];
    }

    // Of each cache, and of memory: a chain through half of the first, or through so much that the level before is passed by, and no more:
    // what others leave of a cache is less than all of it.
    private static IReadOnlyList<double> Latencies(IReadOnlyList<long> sizes)
        => [Latency(sizes[0] / 2), .. sizes.Select((size, level) => Latency(level == sizes.Count - 1 ? 4 * size : 2 * size))];

    // A chain of addresses through as much memory, in no order; the median of some stretches.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static double Latency(long bytes)
    {
        const int Steps = 200_000;
        var count = (int)(bytes / LineBytes);
        var (next, first) = LargePages.Make(count * (LineBytes / sizeof(int)));
        int[] order = [.. Enumerable.Range(1, count - 1)];
        new Random(1).Shuffle(order);
        var at = first;
        foreach (var line in order)
        {
            at = next[at] = first + (line * (LineBytes / sizeof(int)));
        }

        next[at] = first;
        var (times, step) = (new double[20], first);
        for (var stretch = 0; stretch < times.Length; stretch++)
        {
            var began = Stopwatch.GetTimestamp();
            for (var index = 0; index < Steps; index++)
            {
                step = next[step];
            }

            times[stretch] = Stopwatch.GetElapsedTime(began).TotalNanoseconds / Steps;
        }

        return step < 0 ? double.NaN : times.Median();
    }
}
