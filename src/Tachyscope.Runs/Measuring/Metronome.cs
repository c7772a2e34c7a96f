using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>Fixed work of known cost, that tells how fast the machine is running at a moment.</summary>
/// <remarks>
/// A chain of 64-bit multiplications, each waiting for the last: three clock cycles a link on current x64 and Arm
/// processors, whatever else is in the caches.
/// </remarks>
static partial class Metronome
{
    /// <summary>Links in one reading: about 20 µs on a 3 GHz processor.</summary>
    public const long LinksPerReading = 20_480;

    /// <summary>Clock cycles of one link.</summary>
    public const int CyclesPerLink = 3;

    private static long s_factor = unchecked((long)0x9E37_79B9_7F4A_7C15);
    private static long s_sink;

    internal static MeasuredLoop Loop { get; } = Run;

    /// <summary>Runs a chain of links and keeps what comes out.</summary>
    /// <param name="links">Number of links; rounded up to a multiple of 16.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization | MethodImplOptions.NoInlining)]
    public static void Run(long links)
    {
        // Volatile, so that the factor is no constant and no two multiplications can be folded into one.
        var factor = Volatile.Read(ref s_factor);
        var value = 1L;
        for (var left = links; left > 0; left -= 16)
        {
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
            value *= factor;
        }

        Volatile.Write(ref s_sink, value);
    }

    /// <summary>Takes one reading of the metronome, with all its signals.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static Runs.Reading Read() => ReadingTaker.Take(Loop, LinksPerReading);
}
