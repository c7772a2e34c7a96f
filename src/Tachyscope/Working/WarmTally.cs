using System.Runtime.ExceptionServices;
using Tachyscope.Measuring;

namespace Tachyscope.Working;

/// <summary>Counts what calls of a cell that is warm throw, ask of the system and leave to other threads, and whether they wait.</summary>
internal static class WarmTally
{
    private const double TallyNanoseconds = 5_000_000;
    private const double MostTallyCalls = 4_096;

    // What other threads do for a call, before it is taken for part of it: of its time, and at least an object.
    private const int LooksElsewhere = 4;
    private const double LeastShareElsewhere = 0.3;
    private const int LeastBytesElsewhere = 16;

    // Below it, what two looks at the clocks take themselves is as much.
    private const long LeastNanosecondsElsewhere = 20_000;
    private const int CallsPastCollector = 100;

    /// <summary>Counts: apart from the readings, since counting costs time and bytes of its own.</summary>
    public static void Take(Warming warming)
    {
        var thrown = 0L;
        void Count(object? sender, FirstChanceExceptionEventArgs arguments) => Interlocked.Increment(ref thrown);
        var most = Math.Min(MostTallyCalls, warming.Cell.MostCalls);
        var perCall = Math.Max(warming.Watch.FastestNanosecondsPerCall, 0.1);
        var calls = warming.Cell.InStretches(
            (long)Math.Clamp(TallyNanoseconds / perCall, 1, most), perCall, WarmingCalls.MostSliceStretchNanoseconds);
        var (before, collections) = (SystemTraffic.Count(), GC.CollectionCount(0));
        AppDomain.CurrentDomain.FirstChanceException += Count;
        try
        {
            CellReader.Take(warming.Cell, calls);
        }
        finally
        {
            AppDomain.CurrentDomain.FirstChanceException -= Count;
        }

        var inAll = (double)calls * (warming.Cell.Description.Loop.Threads ?? 1);
        warming.ReadsAndWritesPerCall = AskedPerCall(before, collections, inAll);
        warming.ExceptionsPerCall = thrown / inAll;
        LookElsewhere(warming, calls);
    }

    // A collection asks the system how much memory there is, which is much only beside a few calls.
    private static double? AskedPerCall(long? before, int collections, double calls)
        => GC.CollectionCount(0) == collections || calls >= CallsPastCollector ? (SystemTraffic.Count() - before) / calls : null;

    // More than once, since the runtime may be at something of its own meanwhile; the collector's threads and its bytes are none of these.
    private static void LookElsewhere(Warming warming, long calls)
    {
        if (warming.Cell.IsProcessWide)
        {
            return;
        }

        var share = 1.0;
        // As long as there is something left to doubt: now and then a call waits for what is compiled meanwhile.
        for (var look = 0; look < LooksElsewhere
            && (share > LeastShareElsewhere || warming.ReadsAndWritesPerCall is not 0 || warming.WaitsPerCall is not 0); look++)
        {
            var (processor, own, collections) = (ProcessorClock.ProcessNanoseconds, ProcessorClock.ThreadNanoseconds,
                GC.CollectionCount(0));
            var bytes = GC.GetTotalAllocatedBytes(precise: true);
            var (traffic, waits) = (SystemTraffic.Count(), OwnWaits.Count());
            var reading = CellReader.Take(warming.Cell, calls);
            // Whoever waits for the collector does not wait of its own accord.
            var waited = GC.CollectionCount(0) == collections ? (double?)(OwnWaits.Count() - waits) / calls : null;
            var asked = AskedPerCall(traffic, collections, calls);
            var othersBytes = GC.GetTotalAllocatedBytes(precise: true) - bytes - reading.AllocatedBytes;
            // What looking takes is this thread's too, and beside a short reading it is much.
            own = ProcessorClock.ThreadNanoseconds - own;
            var callers = warming.Cell.Description.Loop.Threads is null ? 0 : reading.ProcessorNanoseconds ?? 0;
            var others = ProcessorClock.ProcessNanoseconds - processor - own - callers;
            var ofTime = GC.CollectionCount(0) == collections && ProcessorClock.IsSupported && others >= LeastNanosecondsElsewhere
                ? (double)others / Math.Max(1, reading.ElapsedNanoseconds)
                : 0;
            var ofBytes = othersBytes >= calls * LeastBytesElsewhere ? (double)othersBytes / (othersBytes + reading.AllocatedBytes) : 0;
            share = Math.Min(share, Math.Max(ofTime, ofBytes));
            warming.ReadsAndWritesPerCall = Least(warming.ReadsAndWritesPerCall, asked);
            warming.WaitsPerCall = Least(warming.WaitsPerCall, waited);
        }

        if (share > LeastShareElsewhere)
        {
            warming.Cell.OtherThreadsShare = share;
            warming.WaitsPerCall = null;
        }

        static double? Least(double? before, double? now) => before < now ? before : now ?? before;
    }
}
