using System.Diagnostics;
using System.Runtime.CompilerServices;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>Calls cells to warm them, and keeps what was seen meanwhile of time, of the core and of what this thread had of it.</summary>
/// <remarks>Optimised at once, like all that runs between the calls it watches.</remarks>
internal sealed class WarmingCalls
{
    /// <summary>What a stretch of a mix may take, to be warmed as a whole.</summary>
    public const double MostSliceStretchNanoseconds = 50_000_000;

    private const double SliceNanoseconds = 1_000_000;

    // As many calls as the runtime counts before it compiles a method anew, which it does twice, to learn its profile and for good. What
    // takes longer than that is compiled before it was called so often.
    private const int CallsOfStep = 30;
    private const double MostNanosecondsOfStep = 1_000_000;

    private const int MostGauges = 8_192;
    private const double MostPatience = 2;

    // Of a processor, while others are warmed beside it.
    private const double UsualShare = 0.8;

    private static readonly double MillisecondsPerTick = 1e3 / Stopwatch.Frequency;

    private readonly long _start = Stopwatch.GetTimestamp();
    private readonly int[] _gauges = new int[MostGauges];
    private int _gauged;

    // Since something was last compiled: time in slices that need the processor, and what they had of it.
    private long _busyNanoseconds;
    private long _processorNanoseconds;

    public double ElapsedMilliseconds
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => (Stopwatch.GetTimestamp() - _start) * MillisecondsPerTick;
    }

    /// <summary>What the gauge read in the quietest moments, and whether as sharply as on a core that is ours alone.</summary>
    public (int Low, bool IsSharp) LowGauge => TurnGauge.LowOf(_gauges.Take(_gauged));

    /// <summary>
    /// How many times as long as usual to wait for the compiler: on a machine so busy that this thread gets half of it, the one that
    /// compiles does too.
    /// </summary>
    public double Patience
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => Math.Clamp(UsualShare * _busyNanoseconds / Math.Max(_processorNanoseconds, 1.0), 1, MostPatience);
    }

    /// <summary>What this thread had of the processor is looked at from here on.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public void Forget() => (_busyNanoseconds, _processorNanoseconds) = (0, 0);

    /// <summary>The first call, by which it shows whether it marks stages.</summary>
    public void First(Warming warming)
    {
        FirstCall(warming);
        Note(warming, ElapsedMilliseconds, warming.FirstCall);
    }

    /// <summary>As long as all others are called in turn.</summary>
    /// <param name="warming">The cell.</param>
    /// <param name="leastCalls">As often as a short one has to be called.</param>
    /// <param name="longestNanoseconds">What the longest call takes that is repeated to be warm.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Slice(Warming warming, int leastCalls, double longestNanoseconds)
    {
        var watch = warming.Watch;
        var calls = 1L;
        if (watch.Calls > 0)
        {
            // Beside calls that take long, what has to be called more often than they do is called as long as one of them: else all would
            // be called as often as that.
            var slice = warming.IsCalledEnough(leastCalls) ? SliceNanoseconds : Math.Max(SliceNanoseconds, longestNanoseconds);
            // Growing from one call: the first is mostly compilation and says nothing of the next.
            calls = (long)Math.Clamp(slice / Math.Max(watch.NanosecondsPerCall, 0.1), 1, watch.Calls * 4);
        }

        Call(warming, calls);
    }

    /// <summary>As often as takes its method to the next tier, and no more.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Few(Warming warming)
    {
        // Not a number before its first.
        if (warming.Watch.NanosecondsPerCall > MostNanosecondsOfStep)
        {
            return;
        }

        Call(warming, 1);
        var ofMethod = Math.Min(CallsOfStep, MostNanosecondsOfStep / Math.Max(warming.Watch.NanosecondsPerCall, 0.1));
        var more = (long)Math.Ceiling(ofMethod / warming.Sharing) - 1;
        if (more > 0)
        {
            Call(warming, more);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Call(Warming warming, long calls)
    {
        var watch = warming.Watch;
        calls = Math.Min(warming.Cell.InStretches(calls, watch.NanosecondsPerCall, MostSliceStretchNanoseconds), warming.Cell.MostCalls);
        var beat = Metronome.Read().NanosecondsPerCall;
        _gauges[_gauged++ % _gauges.Length] = Gauge.Read();
        // For itself: it is to be compiled, and foreseen, before it counts.
        CallGauge.Read();
        var taken = CellReader.Take(warming.Cell, calls);
        if (warming.Cell.Description.Loop.Path != CallPath.Awaited && taken.ProcessorNanoseconds is { } processor)
        {
            _busyNanoseconds += taken.ElapsedNanoseconds;
            _processorNanoseconds += processor;
        }

        var now = ElapsedMilliseconds;
        watch.Add(now, calls, taken.ElapsedNanoseconds, beat, taken.AllocatedBytes);
        warming.Compiling = taken.CompiledMethods > 0 ? warming.Compiling + 1 : 0;
        Note(warming, now, taken);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Note(Warming warming, double milliseconds, in Reading slice)
        => warming.Curve.Note(milliseconds, slice.Calls, slice.ElapsedNanoseconds, slice.AllocatedBytes, slice.CompiledMethods);

    // Stages are marked by one flow of control at a time.
    private static void FirstCall(Warming warming)
    {
        if (warming.Cell.Description.Loop.Threads is not null)
        {
            warming.FirstCall = CellReader.Take(warming.Cell, 1);
            return;
        }

        StageRecorder.Begin();
        try
        {
            warming.FirstCall = CellReader.Take(warming.Cell, 1);
        }
        finally
        {
            StageRecorder.End();
        }

        warming.Cell.MarksStages = StageRecorder.Marks > 0;
    }
}
