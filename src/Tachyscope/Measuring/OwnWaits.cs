using System.Runtime.InteropServices;

namespace Tachyscope.Measuring;

/// <summary>How often the calling thread left its processor of its own accord, to sleep or to wait for something.</summary>
/// <remarks>The voluntary context switches of getrusage(2), which Linux counts for each thread.</remarks>
internal static unsafe class OwnWaits
{
    private const int OfThread = 1;

    // Of struct rusage, in words; some libraries leave room behind it.
    private const int Words = 40;
    private const int VoluntarySwitches = 16;

    /// <summary>Times so far; null where the system does not tell, or has not seen it wait yet.</summary>
    public static long? Count()
    {
        if (!OperatingSystem.IsLinux() || !Environment.Is64BitProcess)
        {
            return null;
        }

        var usage = stackalloc long[Words];
        return getrusage(OfThread, usage) == 0 && usage[VoluntarySwitches] > 0 ? usage[VoluntarySwitches] : null;
    }

    [DllImport("libc", ExactSpelling = true)]
    private static extern int getrusage(int who, long* usage);
}
