using System.Runtime.InteropServices;

namespace Tachyscope.Measuring;

/// <summary>Which processors the calling thread may run on, where the system lets it choose.</summary>
internal static unsafe class Affinity
{
    private const int MaskBytes = 128;

    /// <summary>Processors this process may run on; empty where the system does not tell. Asked once, before any thread is moved.</summary>
    public static IReadOnlyList<int> Allowed { get; } = Ask();

    /// <summary>The same, one of every core first: two threads on one core have half of it each.</summary>
    public static IReadOnlyList<int> CoreByCore() => Spread(Allowed, CoreOf);

    /// <summary>Moves the calling thread to one processor; false where the system refuses.</summary>
    public static bool TryPin(int processor)
    {
        if (!OperatingSystem.IsLinux() || processor is < 0 or >= MaskBytes * 8)
        {
            return false;
        }

        var mask = stackalloc byte[MaskBytes];
        new Span<byte>(mask, MaskBytes).Clear();
        mask[processor / 8] = (byte)(1 << (processor % 8));
        return sched_setaffinity(0, MaskBytes, mask) == 0;
    }

    /// <summary>Processors in such an order that every core has given as many as it can when one gives another.</summary>
    /// <param name="processors">The processors.</param>
    /// <param name="coreOf">Names a processor's core; null where the system does not tell, which is then a core of its own.</param>
    internal static IReadOnlyList<int> Spread(IReadOnlyList<int> processors, Func<int, string?> coreOf)
        => [.. processors.GroupBy(processor => coreOf(processor) ?? $"processor {processor}", StringComparer.Ordinal)
            .SelectMany(core => core.Select((processor, sibling) => (Processor: processor, Sibling: sibling)))
            .OrderBy(place => place.Sibling).Select(place => place.Processor)];

    // The processors of one core name each other alike.
    private static string? CoreOf(int processor)
    {
        try
        {
            return File.ReadAllText($"/sys/devices/system/cpu/cpu{processor}/topology/thread_siblings_list");
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    private static List<int> Ask()
    {
        if (!OperatingSystem.IsLinux())
        {
            return [];
        }

        var mask = stackalloc byte[MaskBytes];
        if (sched_getaffinity(0, MaskBytes, mask) < 0)
        {
            return [];
        }

        var processors = new List<int>();
        for (var processor = 0; processor < MaskBytes * 8; processor++)
        {
            if ((mask[processor / 8] & (1 << (processor % 8))) != 0)
            {
                processors.Add(processor);
            }
        }

        return processors;
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int sched_getaffinity(int thread, nint maskBytes, byte* mask);

    [DllImport("libc", ExactSpelling = true)]
    private static extern int sched_setaffinity(int thread, nint maskBytes, byte* mask);
}
