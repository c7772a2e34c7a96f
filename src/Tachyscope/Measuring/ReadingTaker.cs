using System.Diagnostics;
using System.Runtime;
using System.Runtime.CompilerServices;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using Tachyscope.Working;

namespace Tachyscope.Measuring;

/// <summary>Takes one reading: the signals outside, the processor time inside them, the clock innermost.</summary>
internal static class ReadingTaker
{
    private static readonly double NanosecondsPerTick = 1e9 / Stopwatch.Frequency;

    /// <summary>A reading of a cell, its batch made ready first.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static Reading Take(MeasuredCell cell, long calls)
    {
        Whereabouts.Enter(WorkerPlace.Cell, cell.Index);
        cell.Refill?.Invoke();
        if (!cell.IsProcessWide)
        {
            return Take(cell.Loop, calls);
        }

        var allocated = GC.GetTotalAllocatedBytes(precise: true);
        var processor = ProcessorClock.ProcessNanoseconds;
        var reading = Take(cell.Loop, calls);
        return reading with
        {
            ElapsedNanoseconds = cell.Clock is { } clock
                ? (long)((clock.End - clock.Start) * NanosecondsPerTick)
                : reading.ElapsedNanoseconds,
            ProcessorNanoseconds = ProcessorClock.IsSupported ? ProcessorClock.ProcessNanoseconds - processor : null,
            AllocatedBytes = GC.GetTotalAllocatedBytes(precise: true) - allocated,
        };
    }

    /// <summary>A reading of a loop with the collector kept out, as far as its budget goes.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static Reading TakeHeld(MeasuredCell cell, long calls)
    {
        CollectionHold.Begin();
        var isHeld = false;
        Reading reading;
        try
        {
            reading = Take(cell, calls);
        }
        finally
        {
            // Also after an operation that threw: what follows must not run in a region that is still held.
            isHeld = CollectionHold.End();
        }

        return reading with { IsCollectionHeld = isHeld };
    }

    // Optimised at once: the instrument must not be recompiled between two readings.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static Reading Take(MeasuredLoop loop, long calls)
    {
        var collections0 = GC.CollectionCount(0);
        var collections1 = GC.CollectionCount(1);
        var collections2 = GC.CollectionCount(2);
        var pause = GC.GetTotalPauseDuration().Ticks;
        var compiled = JitInfo.GetCompiledMethodCount();
        var contentions = Monitor.LockContentionCount;
        var allocated = GC.GetAllocatedBytesForCurrentThread();
        var processor = ProcessorClock.ThreadNanoseconds;
        var start = Stopwatch.GetTimestamp();
        loop(calls);
        var end = Stopwatch.GetTimestamp();
        processor = ProcessorClock.ThreadNanoseconds - processor;
        allocated = GC.GetAllocatedBytesForCurrentThread() - allocated;
        return new Reading
        {
            Calls = calls,
            ElapsedNanoseconds = (long)((end - start) * NanosecondsPerTick),
            ProcessorNanoseconds = ProcessorClock.IsSupported ? processor : null,
            AllocatedBytes = allocated,
            CollectionsGen0 = GC.CollectionCount(0) - collections0,
            CollectionsGen1 = GC.CollectionCount(1) - collections1,
            CollectionsGen2 = GC.CollectionCount(2) - collections2,
            PauseNanoseconds = (GC.GetTotalPauseDuration().Ticks - pause) * 100,
            CompiledMethods = (int)(JitInfo.GetCompiledMethodCount() - compiled),
            LockContentions = (int)(Monitor.LockContentionCount - contentions),
        };
    }
}
