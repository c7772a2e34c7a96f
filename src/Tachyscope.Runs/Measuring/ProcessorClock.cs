using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Tachyscope.Measuring;

/// <summary>Processor time of the calling thread and of the whole process.</summary>
internal static unsafe class ProcessorClock
{
    private static readonly int ThreadClockId = OperatingSystem.IsLinux() ? 3 : OperatingSystem.IsMacOS() ? 16 : -1;
    private static readonly int ProcessClockId = OperatingSystem.IsLinux() ? 2 : OperatingSystem.IsMacOS() ? 12 : -1;

    public static bool IsSupported { get; } = TryRead(ThreadClockId, out _);

    /// <summary>Nanoseconds of processor time of the calling thread; 0 where the system does not tell.</summary>
    public static long ThreadNanoseconds
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => TryRead(ThreadClockId, out var nanoseconds) ? nanoseconds : 0;
    }

    /// <summary>Nanoseconds of processor time of all threads; 0 where the system does not tell.</summary>
    public static long ProcessNanoseconds => TryRead(ProcessClockId, out var nanoseconds) ? nanoseconds : 0;

    // Optimised at once, like all that runs between readings.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static bool TryRead(int clock, out long nanoseconds)
    {
        nanoseconds = 0;
        if (clock < 0)
        {
            return false;
        }

        Timespec now;
        if (clock_gettime(clock, &now) != 0)
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
