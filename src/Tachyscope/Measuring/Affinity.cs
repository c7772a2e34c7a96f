using System.Runtime.InteropServices;

namespace Tachyscope.Measuring;

/// <summary>Which processors the calling thread may run on, where the system lets it choose.</summary>
internal static unsafe class Affinity
{
    private const int MaskBytes = 128;

    /// <summary>Processors this process may run on; empty where the system does not tell. Asked once, before any thread is moved.</summary>
    public static IReadOnlyList<int> Allowed { get; } = Ask();

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
