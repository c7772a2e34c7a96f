using System.Diagnostics;
using System.Runtime;
using System.Runtime.CompilerServices;
using Tachyscope.Answers;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>
/// Calls the cells in turn until nothing was compiled for a while, builds their measured loops, and calls those until
/// nothing was compiled again and speed and allocation stand still: docs/method.md, "Warm-up".
/// </summary>
/// <remarks>
/// Twice, since a method that was inlined while it was called through the delegate may be called from the built loop, in a
/// version that was not optimised yet. Like <see cref="WarmUpWatch"/>, all this is optimised at once and free of anything
/// that would be compiled late.
/// </remarks>
internal sealed class Warmer
{
    private const double SliceNanoseconds = 1_000_000;
    private const double ShareBeforeBuilding = 0.6;
    private const double MostPatience = 2;

    // Of a processor, while others are warmed beside it.
    private const double UsualShare = 0.8;

    // What a stretch of a mix may take, to be warmed and to be read as a whole.
    internal const double MostSliceStretchNanoseconds = 50_000_000;
    private const double MostReadingStretchNanoseconds = 1_000_000_000;

    // With all that is compiled for it.
    private const double MostNanosecondsOfFirstCall = 250e6;

    private const int MostGauges = 8_192;

    private static readonly double MillisecondsPerTick = 1e3 / Stopwatch.Frequency;

    private readonly long _start = Stopwatch.GetTimestamp();
    private readonly WarmRequest _request;
    private readonly int _quietMilliseconds;
    private readonly List<CellError> _failures;
    private readonly Warming[] _warmings;

    // Since something was last compiled: time in slices that need the processor, and what they had of it.
    private long _busyNanoseconds;
    private long _processorNanoseconds;

    // What the longest call at hand takes that is repeated to be warm.
    private double _longestNanoseconds;

    private readonly CodeEar? _ear;
    private readonly int[] _gauges = new int[MostGauges];
    private int _gauged;

    // Whether the study as it is or its copies are being warmed.
    private bool _isOfCopies;

    public Warmer(WarmRequest request, IReadOnlyList<MeasuredCell> cells, List<CellError> failures, CodeEar? ear)
    {
        _request = request;
        _quietMilliseconds = request.QuietMilliseconds + (2 * OptimisationDelay.Milliseconds);
        _failures = failures;
        _ear = ear;
        _warmings = [.. request.Cells.Select(index => new Warming(index, cells[index]))];
    }

    /// <summary>Copies of the code that are warmed.</summary>
    public int Copies { get; private set; } = 1;

    /// <summary>What the gauge read in the quietest moments, and whether as sharply as on a core that is ours alone.</summary>
    public (int Low, bool IsSharp) LowGauge => TurnGauge.LowOf(_gauges.Take(_gauged));

    private enum Step
    {
        FirstCall,
        Slice,
        Build,
        Tally,
    }

    public double ElapsedMilliseconds
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => (Stopwatch.GetTimestamp() - _start) * MillisecondsPerTick;
    }

    public void Run()
    {
        // The instrument's own first reading loads what it needs, which must not be booked on an operation's first call.
        Metronome.Read();
        // The study as it is comes first and alone: framework code that calls back into it is optimised once, for those who called it until
        // then, and that is to be as in a program.
        Warm(copies: false);
        Each(Step.Tally);
        if (LeaveOutCopies())
        {
            Warm(copies: true);
            TellCopies();
        }

        foreach (var warming in _warmings)
        {
            Finish(warming);
            warming.Cell.Cold?.BeginCold();
        }

        // What the set-up left behind is collected now rather than in somebody's reading.
        GC.Collect();
        GC.WaitForPendingFinalizers();
    }

    private void Warm(bool copies)
    {
        _isOfCopies = copies;
        var begun = ElapsedMilliseconds;
        Each(Step.FirstCall);
        Settle(begun + (_request.CapMilliseconds * ShareBeforeBuilding), isBuilt: false);
        _ear?.HearDecisions();
        Each(Step.Build);
        var leastAfter = ElapsedMilliseconds + (_request.CapMilliseconds * (1 - ShareBeforeBuilding));
        Settle(Math.Max(begun + _request.CapMilliseconds, leastAfter), isBuilt: true);
    }

    // Of calls that take long, more copies would take all the time there is.
    private bool LeaveOutCopies()
    {
        var isSlow = Array.Exists(_warmings, warming => warming.FirstCall.ElapsedNanoseconds > MostNanosecondsOfFirstCall);
        foreach (var warming in _warmings)
        {
            warming.Cell.HasFailed |= isSlow && warming.Cell.Description.Copy > 0;
        }

        Copies = 1 + _warmings.Where(warming => !warming.Cell.HasFailed)
            .Select(warming => warming.Cell.Description.Copy).DefaultIfEmpty(0).Max();
        return Copies > 1;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Settle(double capMilliseconds, bool isBuilt)
    {
        var compiled = JitInfo.GetCompiledMethodCount();
        var quietSince = ElapsedMilliseconds;
        (_busyNanoseconds, _processorNanoseconds) = (0, 0);
        while (true)
        {
            _longestNanoseconds = LongestCall();
            Each(Step.Slice);
            var now = ElapsedMilliseconds;
            var compiledNow = JitInfo.GetCompiledMethodCount();
            if (compiledNow != compiled)
            {
                compiled = compiledNow;
                quietSince = now;
                (_busyNanoseconds, _processorNanoseconds) = (0, 0);
                Forget();
            }

            if ((now - quietSince >= Quiet && (isBuilt ? AreAllSteady() : HaveAllBeenCalled())) || now >= capMilliseconds)
            {
                return;
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private double LongestCall()
    {
        var longest = 0.0;
        foreach (var warming in _warmings)
        {
            // Not a number before its first slice, and so not larger.
            if (IsAtHand(warming) && !warming.IsSlow && !warming.Cell.HasFailed && warming.Watch.FastestNanosecondsPerCall > longest)
            {
                longest = warming.Watch.FastestNanosecondsPerCall;
            }
        }

        return longest;
    }

    // On a machine so busy that this thread gets half of it, the one that compiles does too.
    private double Quiet
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        get => _quietMilliseconds * Math.Clamp(UsualShare * _busyNanoseconds / Math.Max(_processorNanoseconds, 1.0), 1, MostPatience);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool IsAtHand(Warming warming) => warming.Cell.Description.Copy > 0 == _isOfCopies;

    // As often as the runtime waits for before it optimises a method, twice.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool HaveAllBeenCalled()
    {
        foreach (var warming in _warmings)
        {
            if (IsAtHand(warming) && !warming.IsCalledEnough(_request.LeastCalls)
                && !warming.IsSlow && !warming.IsCompiling && !warming.Cell.HasFailed)
            {
                return false;
            }
        }

        return true;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Forget()
    {
        foreach (var warming in _warmings)
        {
            if (IsAtHand(warming))
            {
                warming.Unsettle();
            }
        }
    }

    // Once steady is enough: on a noisy machine many cells are hardly ever all steady at one moment.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool AreAllSteady()
    {
        var all = true;
        foreach (var warming in _warmings)
        {
            if (!IsAtHand(warming))
            {
                continue;
            }

            if (!warming.IsSettled
                && (warming.IsSlow || warming.IsCompiling || (warming.IsCalledEnough(_request.LeastCalls) && warming.Watch.IsSteady())))
            {
                warming.IsSettled = true;
                warming.SettledMilliseconds = ElapsedMilliseconds;
            }

            all &= warming.IsSettled || warming.Cell.HasFailed;
        }

        return all;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Each(Step step)
    {
        foreach (var warming in _warmings)
        {
            if (!IsAtHand(warming) || warming.Cell.HasFailed || (step is Step.Slice && (warming.IsSlow || warming.IsCompiling)))
            {
                continue;
            }

            try
            {
                Take(step, warming);
            }
#pragma warning disable CA1031 // Whatever the user's operation throws ends its cell, not the sitting.
            catch (Exception exception)
#pragma warning restore CA1031
            {
                warming.Cell.HasFailed = true;
                _failures.Add(new CellError { Cell = warming.Index, Reason = $"threw {ExceptionText.Of(exception)}" });
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Take(Step step, Warming warming)
    {
        switch (step)
        {
            case Step.FirstCall:
                FirstCall(warming);
                Note(warming, ElapsedMilliseconds, warming.FirstCall);
                break;
            case Step.Slice:
                CallSlice(warming);
                break;
            case Step.Build:
                warming.Cell.ChangeLoop();
                if (warming.IsCompiling)
                {
                    CellReader.Take(warming.Cell, 1);
                }
                else if (!warming.IsSlow)
                {
                    warming.WatchAnew();
                }

                break;
            default:
                if (!warming.IsSlow)
                {
                    WarmTally.Take(warming);
                }

                break;
        }
    }

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

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void CallSlice(Warming warming)
    {
        var watch = warming.Watch;
        var calls = 1L;
        if (watch.Calls > 0)
        {
            // Beside calls that take long, what has to be called more often than they do is called as long as one of them: else all would
            // be called as often as that.
            var slice = warming.IsCalledEnough(_request.LeastCalls) ? SliceNanoseconds : Math.Max(SliceNanoseconds, _longestNanoseconds);
            // Growing from one call: the first is mostly compilation and says nothing of the next.
            calls = (long)Math.Clamp(slice / Math.Max(watch.NanosecondsPerCall, 0.1), 1, watch.Calls * 4);
        }

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

    // What a copy of the code asks of the system, of other threads and of exceptions is what the first asks.
    private void TellCopies()
    {
        var first = _warmings.Where(warming => warming.Cell.Description.Copy == 0).ToDictionary(warming => warming.Cell.Description);
        foreach (var warming in _warmings.Where(warming => warming.Cell.Description.Copy > 0))
        {
            var counted = first[warming.Cell.Description with { Copy = 0 }];
            (warming.ExceptionsPerCall, warming.ReadsAndWritesPerCall, warming.WaitsPerCall)
                = (counted.ExceptionsPerCall, counted.ReadsAndWritesPerCall, counted.WaitsPerCall);
            warming.Cell.OtherThreadsShare = counted.Cell.OtherThreadsShare;
        }
    }

    private void Finish(Warming warming)
    {
        if (warming.Cell.HasFailed)
        {
            return;
        }

        var perCall = warming.Watch.FastestNanosecondsPerCall;
        var (calls, milliseconds) = warming.Curve.UntilFast();
        var perReading = _request.ReadingNanoseconds * warming.Cell.ReadingFactor / Math.Max(perCall, 0.1);
        warming.Cell.WarmUp = new WarmUp
        {
            Cell = warming.Index,
            FirstCallNanoseconds = warming.FirstCall.ElapsedNanoseconds,
            FirstCallAllocatedBytes = warming.FirstCall.AllocatedBytes,
            Calls = 1 + warming.CallsBefore + warming.Watch.Calls,
            IsSettled = warming.IsSettled,
            SettledMilliseconds = warming.SettledMilliseconds,
            LastCompiledMilliseconds = warming.Curve.LastCompiledMilliseconds,
            BytesChangedMilliseconds = warming.Curve.BytesChangedMilliseconds,
            CallsUntilFast = calls,
            MillisecondsUntilFast = milliseconds,
            NanosecondsPerCall = perCall,
            CallsPerReading = warming.Cell.InStretches(
                Math.Clamp((long)perReading, 1, Math.Min(warming.Cell.MostCalls, warming.Cell.Cold?.MostCalls ?? long.MaxValue)), perCall,
                MostReadingStretchNanoseconds),
            ExceptionsPerCall = warming.ExceptionsPerCall,
            ReadsAndWritesPerCall = warming.ReadsAndWritesPerCall,
            WaitsPerCall = warming.WaitsPerCall,
            OtherThreadsShare = warming.Cell.OtherThreadsShare,
            Code = _ear?.Of(warming.Cell, warming.Cell.Loop),
            Curve = warming.Curve.Points(),
        };
    }
}
