using System.Diagnostics;
using System.Runtime;
using Tachyscope.Answers;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>
/// Calls the cells in turn until nothing was compiled for a while and speed and allocation stand still, then builds
/// their measured loops: docs/method.md, "Warm-up".
/// </summary>
internal sealed class Warmer(WarmRequest request, IReadOnlyList<MeasuredCell> cells, List<CellError> failures)
{
    private const double SliceNanoseconds = 1_000_000;
    private const double BuiltLoopNanoseconds = 3_000_000;
    private const int LeastPasses = 2;

    private readonly long _start = Stopwatch.GetTimestamp();
    private readonly Dictionary<int, WarmUpWatch> _watches = [];
    private readonly Dictionary<int, Reading> _firstCalls = [];
    private readonly HashSet<int> _steady = [];

    public double ElapsedMilliseconds => Stopwatch.GetElapsedTime(_start).TotalMilliseconds;

    public void Run()
    {
        foreach (var index in request.Cells)
        {
            Guard(index, () => CallFirst(index));
        }

        var isSettled = Settle();
        foreach (var index in Alive())
        {
            Guard(index, () => Finish(index, isSettled));
        }

        // What the set-up left behind is collected now rather than in somebody's reading.
        GC.Collect();
        GC.WaitForPendingFinalizers();
    }

    private IEnumerable<int> Alive() => request.Cells.Where(index => !cells[index].HasFailed);

    private void CallFirst(int index)
    {
        _firstCalls[index] = ReadingTaker.Take(cells[index].WarmLoop, 1);
        _watches[index] = new WarmUpWatch();
    }

    private bool Settle()
    {
        var compiled = JitInfo.GetCompiledMethodCount();
        var quietSince = ElapsedMilliseconds;
        var alive = Alive().ToList();
        for (var pass = 1; alive.Count > 0; pass++)
        {
            foreach (var index in alive)
            {
                Guard(index, () => CallSlice(index));
            }

            alive.RemoveAll(index => cells[index].HasFailed);
            var now = ElapsedMilliseconds;
            var compiledNow = JitInfo.GetCompiledMethodCount();
            if (compiledNow != compiled)
            {
                compiled = compiledNow;
                quietSince = now;
                _steady.Clear();
            }

            // Once steady is enough: on a noisy machine many cells are hardly ever all steady at one moment.
            _steady.UnionWith(alive.Where(IsReady));
            if (now - quietSince >= request.QuietMilliseconds && alive.TrueForAll(_steady.Contains))
            {
                return true;
            }

            if (now >= request.CapMilliseconds && pass >= LeastPasses)
            {
                return false;
            }
        }

        return false;
    }

    private bool IsReady(int index) => _watches[index].Calls >= request.LeastCalls && _watches[index].IsSteady();

    private void CallSlice(int index)
    {
        var watch = _watches[index];
        var perCall = watch.Calls == 0 ? _firstCalls[index].ElapsedNanoseconds : watch.NanosecondsPerCall;
        var calls = Math.Clamp((long)(SliceNanoseconds / Math.Max(perCall, 0.1)), 1, 10_000_000);
        // A first call is mostly compilation: grow towards a full slice instead of trusting it.
        calls = Math.Min(Math.Max(calls, request.LeastCalls / 4), Math.Max(1, watch.Calls * 4));
        if (perCall > SliceNanoseconds)
        {
            calls = 1;
        }

        var beat = Metronome.Read().NanosecondsPerCall;
        var slice = ReadingTaker.Take(cells[index].WarmLoop, calls);
        watch.Add(ElapsedMilliseconds, calls, slice.ElapsedNanoseconds, beat, slice.AllocatedBytes);
    }

    private void Finish(int index, bool isSettled)
    {
        var cell = cells[index];
        var watch = _watches[index];
        cell.BuildLoop();
        var perCall = TimeBuiltLoop(cell, watch.NanosecondsPerCall, out var calls);
        cell.WarmUp = new WarmUp
        {
            Cell = index,
            FirstCallNanoseconds = _firstCalls[index].ElapsedNanoseconds,
            FirstCallAllocatedBytes = _firstCalls[index].AllocatedBytes,
            Calls = 1 + watch.Calls + calls,
            IsSettled = isSettled || _steady.Contains(index),
            NanosecondsPerCall = perCall,
            CallsPerReading = Math.Max(1, (long)(request.ReadingNanoseconds / Math.Max(perCall, 0.1))),
        };
    }

    // The built loop is faster than the warming one, by a factor for the shortest operations.
    private static double TimeBuiltLoop(MeasuredCell cell, double expectedNanosecondsPerCall, out long calls)
    {
        calls = 0;
        if (expectedNanosecondsPerCall > SliceNanoseconds)
        {
            return expectedNanosecondsPerCall;
        }

        var perCall = Math.Max(expectedNanosecondsPerCall, 0.1);
        for (var spent = 0.0; spent < BuiltLoopNanoseconds;)
        {
            var batch = Math.Max(1, (long)(BuiltLoopNanoseconds / 4 / Math.Max(perCall, 0.1)));
            var reading = ReadingTaker.Take(cell.Loop, batch);
            perCall = reading.NanosecondsPerCall;
            spent += reading.ElapsedNanoseconds;
            calls += batch;
        }

        return perCall;
    }

    private void Guard(int index, Action action)
    {
        try
        {
            action();
        }
#pragma warning disable CA1031 // Whatever the user's operation throws ends its cell, not the sitting.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            cells[index].HasFailed = true;
            failures.Add(new CellError { Cell = index, Reason = $"threw {ExceptionText.Of(exception)}" });
        }
    }
}
