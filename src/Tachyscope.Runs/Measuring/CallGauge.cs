using System.Diagnostics;
using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>Calls of methods that are known only when they are called, against a chain: tells whether they are foreseen.</summary>
/// <remarks>
/// Code calls through a register or memory where a method is virtual, of an interface or behind a delegate, and in .NET nearly wherever it
/// is not put into its caller. Where such calls are foreseen one takes some ten cycles, else forty and more. A processor whose predictor
/// others could mislead may be told to do without it (Intel, "Speculative execution side channel mitigations", 2018).
/// </remarks>
internal static class CallGauge
{
    private const int Calls = 64;
    private const int ChainSteps = 75;
    private const int LinksOfStep = 8;

    private static readonly int s_length = Gauge.Length;

    private static readonly Link[] s_links = [new First(), new Second(), new Third(), new Fourth(), new First(), new Third(), new Second(),
        new Fourth()];

    private static long s_factor = unchecked((long)0x9E37_79B9_7F4A_7C15);
    private static long s_sink;

    /// <summary>Reads it once: time of a call in thousandths of that of a link of the chain, which is three cycles; 1 to 3 µs.</summary>
    /// <remarks>
    /// Whatever ran before, for long or on another's behalf, has the processor foresee its own calls; so these are made once untimed.
    /// </remarks>
    [MethodImpl(MethodImplOptions.AggressiveOptimization | MethodImplOptions.NoInlining)]
    public static int Read()
    {
        var term = Volatile.Read(ref s_factor);
        var value = Call(term);
        var start = Stopwatch.GetTimestamp();
        value = Call(value);
        var middle = Stopwatch.GetTimestamp();
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
        return (int)Math.Min(int.MaxValue / 2,
            1000L * ChainSteps * LinksOfStep / Calls * (middle - start) / Math.Max(1, end - middle));
    }

    // At one place, which is what calls are foreseen by.
    [MethodImpl(MethodImplOptions.AggressiveOptimization | MethodImplOptions.NoInlining)]
    private static long Call(long value)
    {
        var links = s_links;
        for (var left = Calls * s_length; left > 0; left--)
        {
            value = links[left & 7].Next(value);
        }

        return value;
    }

    private abstract class Link
    {
        public abstract long Next(long value);
    }

    private sealed class First : Link
    {
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override long Next(long value) => value + 1;
    }

    private sealed class Second : Link
    {
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override long Next(long value) => value + 2;
    }

    private sealed class Third : Link
    {
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override long Next(long value) => value + 3;
    }

    private sealed class Fourth : Link
    {
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override long Next(long value) => value + 5;
    }
}
