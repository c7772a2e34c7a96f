using System.Runtime.CompilerServices;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using Tachyscope.Working;

namespace Tachyscope.Measuring;

/// <summary>Takes one reading of a cell: of its loop, with what the cell needs around it.</summary>
internal static class CellReader
{
    /// <summary>A reading of a cell, its batch made ready first.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static Reading Take(MeasuredCell cell, long calls)
    {
        Whereabouts.Enter(WorkerPlace.Cell, cell.Index);
        cell.Refill?.Invoke();
        if (!cell.IsProcessWide)
        {
            var own = ReadingTaker.Take(cell.Loop, calls);
            return cell.Cold is null ? own : own with
            {
                ElapsedNanoseconds = Nanoseconds(cell.Clock!),
                // Emptying is among what the thread did meanwhile; no other work shows in so short a call.
                ProcessorNanoseconds = own.ProcessorNanoseconds is null ? null : Nanoseconds(cell.Clock!),
            };
        }

        var allocated = GC.GetTotalAllocatedBytes(precise: true);
        var processor = ProcessorClock.ProcessNanoseconds;
        var reading = ReadingTaker.Take(cell.Loop, calls);
        return reading with
        {
            ElapsedNanoseconds = cell.Clock is { } clock
                ? Nanoseconds(clock)
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

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static long Nanoseconds(IOwnClock clock) => (long)((clock.End - clock.Start) * ReadingTaker.NanosecondsPerTick);
}
