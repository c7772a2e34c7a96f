using System.Text.Json;
using Tachyscope.Lab.Machines;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Lab.Storing;

/// <summary>
/// Remembers gauges in a file of the cache, one entry for each machine and runtime, and one of what calls take for each machine.
/// </summary>
/// <param name="folder">Folder the file is kept in; made when it is not there.</param>
/// <param name="machine">This machine.</param>
public sealed class GaugeFile(string folder, MachineDescription machine) : IGaugeMemory
{
    private const string Name = "gauges.json";

    // A machine may have been given another processor of the same name: what is never seen again is forgotten, by 1 % a time.
    private const double Forgetting = 1.01;

    private const double PerCycle = 1_000;

    private readonly Lock _lock = new();

    /// <summary>
    /// Cycles of a virtual call while a core of the machine was ours alone, as it was seen last; null when it never was.
    /// </summary>
    public double? QuietCallCycles => All().TryGetValue(CallKey, out var kept) ? kept / PerCycle : null;

    /// <inheritdoc/>
    public int? Find(WorkerEnvironment worker)
    {
        ArgumentNullException.ThrowIfNull(worker);
        return All().TryGetValue(Key(worker), out var low) ? low : null;
    }

    /// <inheritdoc/>
    public void Keep(WorkerEnvironment worker, int low, bool isCertain = false)
    {
        ArgumentNullException.ThrowIfNull(worker);
        lock (_lock)
        {
            var all = All();
            var known = all.TryGetValue(Key(worker), out var before) ? (int?)before : null;
            all[Key(worker)] = known is { } lowest && !isCertain ? Math.Min(low, (int)Math.Ceiling(lowest * Forgetting)) : low;
            if (all[Key(worker)] != known)
            {
                Write(all);
            }
        }
    }

    /// <summary>Keeps what a call took while a core was ours alone; never throws.</summary>
    /// <param name="cycles">Cycles of a virtual call; NaN where none was seen, which is not kept.</param>
    public void KeepQuietCall(double cycles)
    {
        if (!double.IsFinite(cycles) || cycles <= 0)
        {
            return;
        }

        lock (_lock)
        {
            var all = All();
            all[CallKey] = (int)Math.Clamp(Math.Round(cycles * PerCycle), 1, int.MaxValue);
            Write(all);
        }
    }

    private string MachineKey => $"{machine.Processor}, {machine.ProcessorCount} processors, {machine.OperatingSystem}; ";

    private string CallKey => $"{MachineKey}thousandths of a cycle for a virtual call on a quiet core";

    private string Key(WorkerEnvironment worker)
        => $"{MachineKey}{worker.Runtime} {worker.Architecture}" + (worker.IsAheadOfTime ? ", ahead of time" : "");

    private void Write(Dictionary<string, int> all)
    {
        try
        {
            Directory.CreateDirectory(folder);
            WholeFile.Write(
                Path.Combine(folder, Name), stream => JsonSerializer.Serialize(stream, all, KeptJson.Default.DictionaryStringInt32));
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            // A cache: it is seen again in the next run.
        }
    }

    private Dictionary<string, int> All()
    {
        try
        {
            using var stream = File.OpenRead(Path.Combine(folder, Name));
            var all = JsonSerializer.Deserialize(stream, KeptJson.Default.DictionaryStringInt32) ?? [];
            return all.Where(entry => entry.Value > 0).ToDictionary();
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException or JsonException)
        {
            return [];
        }
    }
}
