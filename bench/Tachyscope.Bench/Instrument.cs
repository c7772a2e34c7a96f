using System.Diagnostics;
using System.Globalization;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Storing;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;
using Tachyscope.Working;

namespace Tachyscope.Bench;

/// <summary>Runs a study of the studies project as the tool would, and a stopwatch loop on the same cases.</summary>
internal static class Instrument
{
    private static readonly string Output = Path.GetDirectoryName(typeof(Instrument).Assembly.Location)!;

    private static readonly AnalysisOptions Contrasts = new() { AreContrastsOnly = true };

    /// <summary>The built studies.</summary>
    public static string StudiesAssembly => Built("net10.0");

    /// <summary>The built tool.</summary>
    public static string Tool => Path.Combine(Output, "..", "..", "Tachyscope.Cli", Path.GetFileName(Output), "Tachyscope.Cli.dll");

    /// <summary>The built demo.</summary>
    public static string Demo => Path.Combine(Output, "..", "..", "SignalStation", Path.GetFileName(Output), "SignalStation.dll");

    /// <summary>Measures one study and returns what was found, with the time spent in readings and the time it took in all.</summary>
    public static async Task<(StudyFindings Findings, Run Run, double ReadingSeconds, double Seconds)> MeasureAsync(
        string study, double? withinSeconds, int seed, string? runtime = null, string? assembly = null)
    {
        var plan = new RunPlan { Only = [study], WithinSeconds = withinSeconds, Seed = seed };
        var (run, seconds) = await RunAsync(plan, assembly is null ? await StarterAsync(runtime) : new WorkerStarter(assembly));
        var reading = run.Studies[0].Sittings.SelectMany(sitting => sitting.Readings).Sum(taken => taken.ElapsedNanoseconds) * 1e-9;
        return (Analyst.Examine(run, run.Studies[0], AnalysisOptions.Default), run, reading, seconds);
    }

    /// <summary>Does what a plan says, and tells how long it took.</summary>
    public static async Task<(Run Run, double Seconds)> RunAsync(RunPlan plan, WorkerStarter? starter = null)
    {
        var machine = Surveyor.Describe();
        var around = new ExperimentSurroundings
        {
            Machine = machine, Tool = "bench", Gauges = new GaugeFile(BuildCache.DefaultFolder, machine),
            Judge = (run, study) => new Standing { SittingsWorth = TargetAnalyst.Examine(run, study, Contrasts).SittingsWorth },
        };
        var started = Stopwatch.GetTimestamp();
        var outcome = await new Experiment(starter ?? new WorkerStarter(StudiesAssembly), plan, around).RunAsync(CancellationToken.None);
        var run = outcome.Run ?? throw new InvalidOperationException(string.Join("\n", outcome.Refusals));
        return (run, Stopwatch.GetElapsedTime(started).TotalSeconds);
    }

    /// <summary>What the tool writes to its standard output.</summary>
    public static async Task<string> ToolAsync(params string[] arguments)
    {
        string[] command = ["exec", Tool, .. arguments];
        using var process = Process.Start(new ProcessStartInfo(DotnetHost.Path, command) { RedirectStandardOutput = true,
            UseShellExecute = false })!;
        var text = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return text;
    }

    /// <summary>Has the stopwatch loop measure the same cases in the same time; nanoseconds per call of every batch, by variant.</summary>
    public static async Task<IReadOnlyList<(string Name, double[] Batches)>> MeasureByHandAsync(string study, double seconds,
        bool inTurn = false)
    {
        string[] arguments = ["exec", StudiesAssembly, inTurn
            ? "in-turn"
            : "by-hand", study, seconds.ToString("R", CultureInfo.InvariantCulture)];
        var start = new ProcessStartInfo(DotnetHost.Path, arguments) { RedirectStandardOutput = true, UseShellExecute = false };
        using var process = Process.Start(start)!;
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return [.. output.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(Parse)];
    }

    // A runtime is named by its version, and taken from the registry where it is not there.
    private static async Task<WorkerStarter> StarterAsync(string? runtime)
    {
        if (runtime is null)
        {
            return new WorkerStarter(StudiesAssembly);
        }

        var found = await new RuntimeRoots(BuildCache.DefaultFolder).FindAsync(runtime, CancellationToken.None);
        return found.Runtime is { } there
            ? new WorkerStarter(Built("net8.0"), there.Host, there.Version)
            : throw new InvalidOperationException(found.Problem);
    }

    private static string Built(string framework)
        => Path.Combine(Output, "..", "..", "Tachyscope.Bench.Studies", $"{Path.GetFileName(Output)}_{framework}",
            "Tachyscope.Bench.Studies.dll");

    private static (string Name, double[] Batches) Parse(string line)
    {
        var fields = line.Split('\t');
        return (fields[0], [.. fields.Skip(1).Select(field => double.Parse(field, CultureInfo.InvariantCulture))]);
    }
}
