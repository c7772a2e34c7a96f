using System.Diagnostics;
using System.Globalization;
using MathNet.Numerics.Statistics;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;
using static Tachyscope.Bench.Printing;

namespace Tachyscope.Bench;

/// <summary>Is the time allowed kept, does the forecast come true, how long until a first row and a whole answer?</summary>
internal static class SchedulePart
{
    private const double LongestDefault = 6.5;

    private static readonly (string Only, int Seconds)[] Allowances = [("twins", 5), ("twins", 10), ("twins", 20)];

    public static async Task<IReadOnlyList<Claim>> RunAsync(int repeats)
    {
        var over = new List<double>();
        // The time allowed begins with the first worker; the tool's own start comes before it.
        var start = await SecondsAsync("--help");
        foreach (var (only, seconds) in Enumerable.Repeat(Allowances, repeats).SelectMany(allowances => allowances))
        {
            over.Add(((await ToolSecondsAsync(Instrument.StudiesAssembly, only, "--within", $"{seconds}s") - start) / seconds) - 1);
            Say($"--within {seconds,2}s: {over[^1],6:P1} over");
        }

        var (first, whole) = (new List<double>(), new List<double>());
        for (var run = 0; run < repeats * 2; run++)
        {
            first.Add(await FirstRowSecondsAsync());
            whole.Add(await ToolSecondsAsync(Instrument.Demo, "sum of*double"));
            Say($"three variants, one input, by default: first row after {first[^1]:0.0} s, the tool's whole answer after ",
                $"{whole[^1]:0.0} s");
        }

        var errors = new List<double>();
        for (var run = 0; run < repeats; run++)
        {
            errors.Add(await ForecastErrorAsync());
            Say($"the whole demo: forecast at its first tenth off by {errors[^1]:P0}");
        }

        return
        [
            Claim.AtMost("--within: furthest over or under the time allowed", over.Select(Math.Abs).Max(), 0.05),
            new("three variants, one input, by default: the whole answer, median",
                string.Create(CultureInfo.InvariantCulture, $"{whole.Median():0.0} s"), "about 5 s (6.5 s)",
                whole.Median() <= LongestDefault),
            new("and its first provisional row, median", string.Create(CultureInfo.InvariantCulture, $"{first.Median():0.0} s"), "2 s",
                first.Median() <= 2),
            Claim.AtMost("forecast of the demo's time at its first tenth, median error", errors.Select(Math.Abs).Median(), 0.2),
        ];
    }

    private static Task<double> ToolSecondsAsync(string assembly, string only, params string[] options)
        => SecondsAsync(["run", assembly, "--only", only, .. options]);

    private static async Task<double> SecondsAsync(params string[] arguments)
    {
        var started = Stopwatch.GetTimestamp();
        await Instrument.ToolAsync(arguments);
        return Stopwatch.GetElapsedTime(started).TotalSeconds;
    }

    private static async Task<double> FirstRowSecondsAsync()
    {
        var started = Stopwatch.GetTimestamp();
        double? first = null;
        var around = new ExperimentSurroundings
        {
            Machine = Surveyor.Describe(), Tool = "bench", SittingDone = (_, _) => first ??= Stopwatch.GetElapsedTime(started).TotalSeconds,
        };
        await new Experiment(new WorkerStarter(Instrument.Demo), new RunPlan { Only = ["sum of*double"] }, around)
            .RunAsync(CancellationToken.None);
        return first ?? double.PositiveInfinity;
    }

    private static async Task<double> ForecastErrorAsync()
    {
        var started = Stopwatch.GetTimestamp();
        var forecasts = new Forecasts(started);
        var around = new ExperimentSurroundings { Machine = Surveyor.Describe(), Tool = "bench", Progress = forecasts };
        await new Experiment(new WorkerStarter(Instrument.Demo), new RunPlan(), around).RunAsync(CancellationToken.None);
        var whole = Stopwatch.GetElapsedTime(started).TotalSeconds;
        var (at, left) = forecasts.Seen.First(seen => seen.Left is not null && seen.At >= 0.1 * whole);
        return ((at + left!.Value) / whole) - 1;
    }

    private sealed class Forecasts(long started) : IProgress<RunProgress>
    {
        public List<(double At, double? Left)> Seen { get; } = [];

        public void Report(RunProgress value)
        {
            lock (Seen)
            {
                Seen.Add((Stopwatch.GetElapsedTime(started).TotalSeconds, value.TimeLeft?.TotalSeconds));
            }
        }
    }
}
