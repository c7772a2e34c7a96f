using System.Diagnostics;
using System.Runtime;
using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>Takes one reading: the signals outside, the processor time inside them, the clock innermost.</summary>
internal static class ReadingTaker
{
    /// <summary>Length of a tick of the clock.</summary>
    public static readonly double NanosecondsPerTick = 1e9 / Stopwatch.Frequency;

    /// <summary>A reading of a loop.</summary>
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
