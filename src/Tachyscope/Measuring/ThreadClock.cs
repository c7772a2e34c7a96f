using System.Runtime.InteropServices;

namespace Tachyscope.Measuring;

/// <summary>Processor time of the calling thread.</summary>
internal static unsafe class ThreadClock
{
    private static readonly int ClockId = OperatingSystem.IsLinux() ? 3 : OperatingSystem.IsMacOS() ? 16 : -1;

    public static bool IsSupported { get; } = ClockId >= 0 && TryRead(out _);

    /// <summary>Nanoseconds of processor time; 0 where the system does not tell.</summary>
    public static long Nanoseconds => TryRead(out var nanoseconds) ? nanoseconds : 0;

    private static bool TryRead(out long nanoseconds)
    {
        nanoseconds = 0;
        if (ClockId < 0)
        {
            return false;
        }

        Timespec now;
        if (clock_gettime(ClockId, &now) != 0)
        {
            return false;
        }

        nanoseconds = (now.Seconds * 1_000_000_000) + now.Nanoseconds;
        return true;
    }

    [DllImport("libc", ExactSpelling = true)]
    [SuppressGCTransition]
    private static extern int clock_gettime(int clock, Timespec* now);

    private struct Timespec
    {
        public long Seconds;
        public long Nanoseconds;
    }
}
