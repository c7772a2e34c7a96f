using System.Diagnostics;
using System.Globalization;
using Tachyscope.Analysis.Findings;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;
using Tachyscope.Working;

namespace Tachyscope.Bench;

/// <summary>Runs a study of the studies project as the tool would, and a stopwatch loop on the same cases.</summary>
internal static class Instrument
{
    private static readonly string StudiesAssembly = Path.Combine(
        Path.GetDirectoryName(typeof(Instrument).Assembly.Location)!, "..", "..", "Tachyscope.Bench.Studies",
        Path.GetFileName(Path.GetDirectoryName(typeof(Instrument).Assembly.Location)!), "Tachyscope.Bench.Studies.dll");

    /// <summary>Measures one study and returns what was found, with the time spent in readings and the time it took in all.</summary>
    public static async Task<(StudyFindings Findings, Run Run, double ReadingSeconds, double Seconds)> MeasureAsync(string study, double? withinSeconds, int seed)
    {
        var plan = new RunPlan { Only = [study], WithinSeconds = withinSeconds, Seed = seed };
        var around = new ExperimentSurroundings { Machine = Surveyor.Describe(), Tool = "bench" };
        var started = Stopwatch.GetTimestamp();
        var outcome = await new Experiment(new WorkerStarter(StudiesAssembly), plan, around).RunAsync(CancellationToken.None);
        var run = outcome.Run ?? throw new InvalidOperationException(string.Join("\n", outcome.Refusals));
        var reading = run.Studies[0].Sittings.SelectMany(sitting => sitting.Readings).Sum(taken => taken.ElapsedNanoseconds) * 1e-9;
        return (Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default), run, reading, Stopwatch.GetElapsedTime(started).TotalSeconds);
    }

    /// <summary>Has the stopwatch loop measure the same cases in the same time; nanoseconds per call of every batch, by variant.</summary>
    public static async Task<IReadOnlyList<(string Name, double[] Batches)>> MeasureByHandAsync(string study, double seconds)
    {
        string[] arguments = ["exec", StudiesAssembly, "by-hand", study, seconds.ToString("R", CultureInfo.InvariantCulture)];
        var start = new ProcessStartInfo(DotnetHost.Path, arguments) { RedirectStandardOutput = true, UseShellExecute = false };
        using var process = Process.Start(start)!;
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return [.. output.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(Parse)];
    }

    private static (string Name, double[] Batches) Parse(string line)
    {
        var fields = line.Split('\t');
        return (fields[0], [.. fields.Skip(1).Select(field => double.Parse(field, CultureInfo.InvariantCulture))]);
    }
}
