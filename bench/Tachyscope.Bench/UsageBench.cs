using System.Diagnostics;
using System.Globalization;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;
using Tachyscope.Working;

namespace Tachyscope.Bench;

/// <summary>How much of the time after warm-up is spent inside readings, and how much memory the tool takes.</summary>
internal static class UsageBench
{
    private const double LeastShare = 0.75;
    private const double MostMebibytes = 150;
    private static readonly string[] Lengths = ["1 µs", "3 µs", "10 µs", "30 µs", "100 µs", "300 µs", "1 ms", "3 ms", "20 ms"];

    public static async Task<int> RunAsync()
    {
        var isReached = true;
        foreach (var length in Lengths)
        {
            var share = await ShareAsync($"usage {length}");
            isReached &= share >= LeastShare;
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{length,-7} {share:P0} of the time after warm-up inside readings"));
        }

        var mebibytes = await PeakMebibytesAsync();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"the tool took {mebibytes:0} MiB at most over {Lengths.Length} studies"));
        return isReached && mebibytes < MostMebibytes ? 0 : 1;
    }

    // The readings of the operations and of the empty loop; the metronome is the instrument's own.
    private static async Task<double> ShareAsync(string study)
    {
        var workers = new TimedWorkers(new WorkerStarter(Instrument.StudiesAssembly));
        var around = new ExperimentSurroundings { Machine = Surveyor.Describe(), Tool = "bench" };
        var run = (await new Experiment(workers, new RunPlan { Only = [study] }, around).RunAsync(CancellationToken.None)).Run!;
        var inside = run.Studies[0].Sittings.Sum(sitting => sitting.Readings
            .Where(reading => sitting.Cells[reading.Cell].Kind != CellKind.Metronome).Sum(reading => reading.ElapsedNanoseconds) * 1e-9);
        return inside / workers.SecondsAfterWarmUp;
    }

    private static async Task<double> PeakMebibytesAsync()
    {
        using var process = Process.Start(new ProcessStartInfo(DotnetHost.Path,
            ["exec", Instrument.Tool, "run", Instrument.StudiesAssembly, "--only", "usage*", "--plain", "--within", "30s"])
        {
            RedirectStandardOutput = true,
        })!;
        var output = process.StandardOutput.ReadToEndAsync();
        var peak = 0L;
        while (!process.HasExited)
        {
            process.Refresh();
            peak = Math.Max(peak, process.HasExited ? 0 : process.PeakWorkingSet64);
            await Task.Delay(100);
        }

        await output;
        return peak / (1024.0 * 1024);
    }
}
