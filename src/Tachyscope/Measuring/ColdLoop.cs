using System.Diagnostics;
using System.Runtime.CompilerServices;
using Tachyscope.Operations;

namespace Tachyscope.Measuring;

/// <summary>Times each call by itself, after the caches were emptied; only the calls count.</summary>
/// <remarks>
/// While it is warmed nothing is emptied: what is compiled is the same. Before the clock is read, the loop touches its own data again,
/// so that what is cold is the operation's input, what it works with, and from the second level on its code. Reading the clock is ordered
/// after all loads before it, and what it takes is in the loop around an operation that does nothing.
/// </remarks>
internal sealed class ColdLoop<TInput, TResult> : IOwnClock, IColdLoop
{
    private const long MostCallsOfSmall = 32;
    private const long MostCallsOfMedium = 4;

    private readonly Chamber<TInput, TResult> _chamber;
    private readonly long _bytes;
    private readonly MeasuredLoop _warming;
    private bool _isCold;
    private long _start;
    private long _end;

    private ColdLoop(Chamber<TInput, TResult> chamber, long bytes, MeasuredLoop warming)
        => (_chamber, _bytes, _warming) = (chamber, bytes, warming);

    // Optimised at once, like all that is called between readings.
    public long Start
    {
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        get => _start;
    }

    public long End
    {
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        get => _end;
    }

    public long MostCalls => _bytes <= CacheEmptier.Small ? MostCallsOfSmall : _bytes <= CacheEmptier.Medium ? MostCallsOfMedium : 1;

    public int Readings
    {
        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        get => _bytes <= CacheEmptier.Medium ? 3 : 1;
    }

    /// <summary>The loop around a chamber's operation, which is warmed by another.</summary>
    public static LoopPair Pair(Chamber<TInput, TResult> chamber, long bytes, MeasuredLoop warming)
    {
        var loop = new ColdLoop<TInput, TResult>(chamber, bytes, warming);
        return new(loop.Run, null, loop) { Cold = loop };
    }

    public void BeginCold()
    {
        CacheEmptier.Prepare(_bytes);
        _isCold = true;
        // What is compiled for it is compiled now.
        Run(1);
        _ = Start + End + Readings;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Run(long calls)
    {
        if (!_isCold)
        {
            _start = Stopwatch.GetTimestamp();
            _warming(calls);
            _end = Stopwatch.GetTimestamp();
            return;
        }

        var chamber = _chamber;
        var (operation, reading) = (chamber.Operation, chamber.Reading);
        var (ticks, offset) = (0L, (nint)0);
        for (; calls > 0; calls--)
        {
            CacheEmptier.Empty(_bytes);
            offset = (nint)(ResultBits.Of(ref chamber.Result!, reading) & Volatile.Read(ref chamber.OpaqueZero));
            var input = Unsafe.AddByteOffset(ref chamber.Input, offset);
            Touch(operation);
            var began = Stopwatch.GetTimestamp();
            var result = operation(input);
            offset = (nint)(ResultBits.Of(ref result, reading) & Volatile.Read(ref chamber.OpaqueZero));
            ticks += Stopwatch.GetTimestamp() - began + offset;
            chamber.Result = result;
        }

        (_start, _end) = (0, ticks);
    }

    // Reads where a delegate's call begins, and the clock's own data.
    [MethodImpl(MethodImplOptions.NoInlining | MethodImplOptions.AggressiveOptimization)]
    private static void Touch(Func<TInput, TResult> operation)
    {
        if (operation.Target is null && Stopwatch.GetTimestamp() == 0)
        {
            throw new InvalidOperationException();
        }

        Stopwatch.GetTimestamp();
    }
}
