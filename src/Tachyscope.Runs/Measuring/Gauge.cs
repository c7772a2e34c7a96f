using System.Diagnostics;
using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>
/// Short work that fills the core, against as short a chain that leaves most of it idle: tells whether the core is shared.
/// </summary>
/// <remarks>
/// Whoever shares the core takes issue slots, which the additions need and the chain does not. The ratio knows two states, a narrow one
/// when the core is ours alone and a broad one half as much higher and up; a change of the clock leaves it as it is.
/// </remarks>
internal static class Gauge
{
    // Four sums in registers, of operands in registers: more would be spilled to memory, and constants be folded by some processors.
    private const int BroadSteps = 300;
    private const int ChainSteps = 150;

    private static readonly int s_length = Length;

    private static long s_factor = unchecked((long)0x9E37_79B9_7F4A_7C15);
    private static long s_sink;

    /// <summary>How many times as long work has to be where the clock's steps are coarse.</summary>
    public static int Length => (int)Math.Clamp(3e7 / Stopwatch.Frequency, 1, 4);

    /// <summary>Reads it once: time of the additions in thousandths of the chain's; about 4 µs.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization | MethodImplOptions.NoInlining)]
    public static int Read()
    {
        // Volatile, so that no two operations can be folded into one.
        var term = Volatile.Read(ref s_factor);
        var (a, b, c, d) = (1L, 2L, 3L, 4L);
        var start = Stopwatch.GetTimestamp();
        for (var left = BroadSteps * s_length; left > 0; left--)
        {
            a += term; b += term; c += term; d += term;
            a ^= term; b ^= term; c ^= term; d ^= term;
            a += term; b += term; c += term; d += term;
            a ^= term; b ^= term; c ^= term; d ^= term;
            a += term; b += term; c += term; d += term;
            a ^= term; b ^= term; c ^= term; d ^= term;
            a += term; b += term; c += term; d += term;
            a ^= term; b ^= term; c ^= term; d ^= term;
            a += term; b += term; c += term; d += term;
            a ^= term; b ^= term; c ^= term; d ^= term;
            a += term; b += term; c += term; d += term;
            a ^= term; b ^= term; c ^= term; d ^= term;
        }

        var middle = Stopwatch.GetTimestamp();
        var value = a ^ b ^ c ^ d;
        for (var left = ChainSteps * s_length; left > 0; left--)
        {
            value *= term;
            value *= term;
            value *= term;
            value *= term;
            value *= term;
            value *= term;
            value *= term;
            value *= term;
        }

        var end = Stopwatch.GetTimestamp();
        Volatile.Write(ref s_sink, value);
        return (int)Math.Min(int.MaxValue / 2, 1000 * (middle - start) / Math.Max(1, end - middle));
    }
}
