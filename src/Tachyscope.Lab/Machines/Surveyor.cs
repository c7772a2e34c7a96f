using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Machines;

/// <summary>Finds out what this machine is and how steady it is now.</summary>
public static class Surveyor
{
    // Half as much again is read to empty it, in tens of milliseconds.
    private const long MostBytesEmptied = 96 * 1024 * 1024;

    private const string Unknown = "unknown";
    private const int ClockLooks = 10_000;
    private static readonly TimeSpan WarmingTime = TimeSpan.FromMilliseconds(200);

    /// <summary>Processor and system of this machine.</summary>
    public static MachineDescription Describe() => new()
    {
        Processor = ProcessorName(),
        ProcessorCount = Environment.ProcessorCount,
        OperatingSystem = OperatingSystemName(),
        VectorBits = VectorBits(),
        Governor = Governor(),
        ProcessorQuota = new ProcessorChoice().Quota(),
    };

    /// <summary>Surveys the machine.</summary>
    /// <param name="listening">How long to listen to the metronome; one second by default.</param>
    public static MachineSurvey Take(TimeSpan? listening = null)
    {
        Listen(WarmingTime);
        var before = ProcessorTimes.Now();
        var beats = Listen(listening ?? TimeSpan.FromSeconds(1));
        var shares = before is { } then && ProcessorTimes.Now() is { } now ? now.ShareSince(then) : null;
        return new MachineSurvey
        {
            Machine = Describe(),
            Runtime = RuntimeInformation.FrameworkDescription,
            Caches = Caches(),
            VectorBits = Vector512.IsHardwareAccelerated ? 512 : Vector256.IsHardwareAccelerated ? 256 : 128,
            ClockStepNanoseconds = (long)Clock.StepNanoseconds(ClockLooks),
            ClockCostNanoseconds = ClockCost(),
            Governor = Governor(),
            LoadAverage = LoadAverage(),
            BusyShare = shares?.Busy,
            StealShare = shares?.Steal,
            Beats = beats,
            Cores = CoreWatch.Listen(listening ?? TimeSpan.FromSeconds(1)),
        };
    }

    private static string? Governor() => SystemFile.TryRead("/sys/devices/system/cpu/cpu0/cpufreq/scaling_governor");

    // Wider ones are left alone by the runtime on some processors that have them.
    private static int? VectorBits()
        => SystemFile.TryRead("/proc/cpuinfo")?.Split('\n')
            .FirstOrDefault(line => line.StartsWith("flags", StringComparison.Ordinal)) is not { } flags ? null
            : flags.Split(' ').Contains("avx2") ? 256
            : 128;

    private static List<Reading> Listen(TimeSpan time)
    {
        var beats = new List<Reading>(100_000);
        var start = Stopwatch.GetTimestamp();
        while (Stopwatch.GetElapsedTime(start) < time)
        {
            beats.Add(Metronome.Read());
        }

        return beats;
    }

    private static string ProcessorName()
        => (SystemFile.TryRead("/proc/cpuinfo") is { } text ? ProcessorName(text) : null)
            ?? Environment.GetEnvironmentVariable("PROCESSOR_IDENTIFIER")
            ?? Unknown;

    /// <summary>Model of a processor as Linux tells it: by its name, or on arm64 by the numbers of its maker and part.</summary>
    internal static string? ProcessorName(string cpuinfo)
    {
        string? Value(string name)
        {
            var line = Array.Find(cpuinfo.Split('\n'), line => line.StartsWith(name, StringComparison.Ordinal));
            return line?[(line.IndexOf(':', StringComparison.Ordinal) + 1)..].Trim();
        }

        return Value("model name")
            ?? (Value("CPU implementer") is { } maker && Value("CPU part") is { } part ? $"arm64, maker {maker}, part {part}" : null);
    }

    private static string OperatingSystemName()
    {
        var line = SystemFile.TryRead("/etc/os-release")?.Split('\n')
            .FirstOrDefault(line => line.StartsWith("PRETTY_NAME=", StringComparison.Ordinal));
        return line?["PRETTY_NAME=".Length..].Trim('"') ?? RuntimeInformation.OSDescription;
    }

    /// <summary>
    /// Sizes of the first processor's caches for data that can be emptied before every call, in bytes, the smallest first; empty where the
    /// system does not tell.
    /// </summary>
    public static IReadOnlyList<long> CacheSizes()
        => [.. Caches().Where(cache => cache.Holds != "Instruction" && cache.SizeBytes <= MostBytesEmptied).Select(cache => cache.SizeBytes)
            .Distinct().Order()];

    private static List<CacheLevel> Caches()
    {
        const string Root = "/sys/devices/system/cpu/cpu0/cache";
        var caches = new List<CacheLevel>();
        for (var index = 0; Directory.Exists($"{Root}/index{index}"); index++)
        {
            if (SystemFile.TryRead($"{Root}/index{index}/level") is { } level
                && SystemFile.TryRead($"{Root}/index{index}/type") is { } type
                && SystemFile.TryRead($"{Root}/index{index}/size") is { } size)
            {
                caches.Add(new CacheLevel { Level = int.Parse(level, CultureInfo.InvariantCulture), Holds = type,
                    SizeBytes = Bytes(size) });
            }
        }

        return caches;
    }

    private static long Bytes(string size)
    {
        var unit = size[^1] switch { 'K' => 1024L, 'M' => 1024L * 1024, _ => 1L };
        return long.Parse(unit == 1 ? size : size[..^1], CultureInfo.InvariantCulture) * unit;
    }

    private static double? LoadAverage()
        => SystemFile.TryRead("/proc/loadavg")?.Split(' ') is [var first, ..]
            && double.TryParse(first, NumberStyles.Float, CultureInfo.InvariantCulture, out var load) ? load : null;

    private static double ClockCost()
    {
        const int Calls = 100_000;
        var start = Stopwatch.GetTimestamp();
        for (var i = 0; i < Calls; i++)
        {
            Stopwatch.GetTimestamp();
        }

        return Stopwatch.GetElapsedTime(start).TotalNanoseconds / Calls;
    }
}
