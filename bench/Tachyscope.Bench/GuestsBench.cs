using System.Globalization;
using System.Text.Json;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Storing;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Bench;

/// <summary>
/// Guests of every kit: a chain of known cost against its metronome, the empty loop, twins in two processes, and a true difference of 2 %
/// in C.
/// </summary>
internal static class GuestsBench
{
    private const double SecondsOfTwins = 4;
    private const double SecondsOfDifference = 10;
    private const double LinksBetween = 192;

    private static readonly (string Language, string Source)[] Kits =
    [
        ("C", "chain.c"), ("C++", "chain.cpp"), ("Rust", "chain.rs"), ("Go", "go/chain.go"), ("Java", "Chain.java"),
            ("JavaScript", "chain.js"),
        ("Python", "chain.py"),
    ];

    /// <param name="folder">Folder of the chains, tests/Tachyscope.Guests/sources.</param>
    /// <param name="runs">Short runs of twins for each kit, and of the difference; 8 by default.</param>
    public static async Task<int> RunAsync(string folder, int runs)
    {
        var sources = Path.GetFullPath(folder);
        await KnownCostAsync(sources);
        await TwinsAsync(sources, runs == 0 ? 8 : runs);
        await DifferenceAsync(sources, runs == 0 ? 8 : runs);
        return 0;
    }

    private static async Task KnownCostAsync(string sources)
    {
        Console.WriteLine("kit         links measured of 192   ns off   64 links, ns   empty loop, ns   turn and trip less readings, µs");
        foreach (var (language, source) in Kits)
        {
            var run = await MeasureAsync("chains", SecondsOfTwins, 1, Of("short", language, sources, source, "chain64"),
                Of("long", language, sources, source, "chain256"));
            if (run is null)
            {
                Console.WriteLine($"{language,-12} not here");
                continue;
            }

            var findings = Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default);
            var (beat, cells) = (findings.NanosecondsPerLink, findings.Inputs[0].Cells);
            var links = InLinks(run, 1) - InLinks(run, 0);
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{language,-11} {links,21:0.00} {(links - LinksBetween) * beat,8:0.00} "
                + $"{cells[0].NanosecondsPerCall.Estimate,14:0.0} {EmptyLoop(run),16:0.0} {Trip(run),33:0}"));
        }
    }

    private static async Task TwinsAsync(string sources, int runs)
    {
        Console.WriteLine($"twins, one guest twice in processes of their own, {runs} runs of {SecondsOfTwins:0} s: told apart, half-width");
        foreach (var (language, source) in Kits)
        {
            var (apart, widths) = (0, new List<double>());
            for (var seed = 1; seed <= runs; seed++)
            {
                var run = await MeasureAsync("twins", SecondsOfTwins, seed, Of("one", language, sources, source, "chain64"),
                    Of("other", language, sources, source, "chain64"));
                if (run is not null && Contrast(run) is { } contrast)
                {
                    apart += contrast.Verdict is Verdict.Faster or Verdict.Slower ? 1 : 0;
                    widths.Add(contrast.TimeRatio.HalfWidth);
                }
            }

            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{language,-12} {apart} of {widths.Count}   {Median(widths),8:0.0 %}"));
        }
    }

    private static async Task DifferenceAsync(string sources, int runs)
    {
        var (found, wrong) = (0, 0);
        for (var seed = 1; seed <= runs; seed++)
        {
            var run = await MeasureAsync("difference", SecondsOfDifference, seed, Of("as it is", "C", sources, "chain.c", "chain256"),
                Of("2 % more", "C", sources, "chain.c", "chain261"));
            var verdict = run is null ? null : Contrast(run)?.Verdict;
            found += verdict == Verdict.Slower ? 1 : 0;
            wrong += verdict == Verdict.Faster ? 1 : 0;
        }

        Console.WriteLine(
            $"a true difference of 2 % in C, {runs} runs of {SecondsOfDifference:0} s: found in {found}, with the wrong sign in {wrong}");
    }

    private static Contrast? Contrast(Run run)
        => Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default).Inputs[0].Cells[1].Contrast;

    // Of the guest's worker, loop and metronome included.
    private static double EmptyLoop(Run run)
        => Median([.. run.Studies[0].Sittings.SelectMany(sitting => sitting.Readings
            .Where(reading => sitting.Cells[reading.Cell].Kind == CellKind.Identity).Select(reading => reading.NanosecondsPerCall))]);

    // Of a row, loop included, by the link that was read at the beginning of each turn; nothing without a metronome.
    private static double InLinks(Run run, int row)
        => Median([.. run.Studies[0].Sittings.SelectMany(sitting => sitting.Readings.GroupBy(reading => (reading.Round, reading.Place))
            .Select(turn => (
                Beat: turn.Where(reading => sitting.Cells[reading.Cell].Kind == CellKind.Metronome)
                    .Select(reading => reading.NanosecondsPerCall)
                    .DefaultIfEmpty(double.NaN).First(),
                Own: turn.Where(reading => sitting.Cells[reading.Cell] is { Kind: CellKind.Variant } cell && cell.Variant == row)
                    .Select(reading => reading.NanosecondsPerCall).ToList()))
            .Where(turn => turn.Own.Count > 0).Select(turn => Median(turn.Own) / turn.Beat))]);

    private static double Trip(Run run)
        => 1e6 * Median([.. run.Studies[0].Sittings.Where(sitting => sitting.Rounds > 0).Select(sitting =>
            (sitting.EndedSeconds - sitting.BeganSeconds - (sitting.WarmUpMilliseconds * 1e-3)
                - (sitting.Readings.Sum(reading => reading.ElapsedNanoseconds) * 1e-9)) / sitting.Readings.Select(reading
                    => (reading.Round, reading.Place)).Distinct().Count())]);

    private static double Median(List<double> values)
    {
        values.Sort();
        return values.Count == 0 ? double.NaN : (values[(values.Count - 1) / 2] + values[values.Count / 2]) / 2;
    }

    private static object Of(string name, string language, string sources, string source, string operation)
        => new { name, language, source = Path.Combine(sources, source), operation };

    // Null where the machine lacks what builds it.
    private static async Task<Run?> MeasureAsync(string name, double seconds, int seed, params object[] guests)
    {
        var folder = Directory.CreateTempSubdirectory("tachyscope-bench-").FullName;
        try
        {
            var file = Path.Combine(folder, "study.json");
            await File.WriteAllTextAsync(file, JsonSerializer.Serialize(new
            {
                // Chains of other lengths answer otherwise.
                studies = new[] { new { name, inputs = new[] { new { label = "a start", value = new { start = 3 } } }, guests,
                    tolerance = 2 } },
            }));
            var cache = BuildCache.DefaultFolder;
            using var target = await new TargetWorkshop(cache).PrepareAsync(file, new Target { Name = "" }, CancellationToken.None);
            using var workshop = new GuestWorkshop(cache, file);
            var machine = Surveyor.Describe();
            var around = new ExperimentSurroundings { Machine = machine, Tool = "bench", Gauges = new GaugeFile(cache, machine) };
            var experiment = new Experiment(new TargetStarters([target.Starter!]), new RunPlan { WithinSeconds = seconds, Seed = seed },
                around)
            {
                Guests = workshop,
            };
            var run = (await experiment.RunAsync(CancellationToken.None)).Run;
            return run?.Studies[0].Failures.Count == 0 ? run : null;
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }
}
