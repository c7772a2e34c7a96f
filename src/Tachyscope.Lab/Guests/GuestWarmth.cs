using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>Tells from what a guest's cells were called whether they are warm: by the rule that our own worker goes by, with
/// windows twice as long.</summary>
internal sealed class GuestWarmth
{
    // As in a worker of ours: a call as long as this is not repeated only to be warm, and of long ones a few tell.
    private const double SlowCallNanoseconds = 250_000_000;
    private const double LongCallNanoseconds = 10_000_000;
    private const int LeastLongCalls = 8;

    // Longer than in a worker of ours: nothing tells here that something was compiled.
    private const double WindowMilliseconds = 100;

    private readonly Dictionary<int, Cell> _cells = [];

    /// <summary>Keeps what was called in one request.</summary>
    public void Add(WarmReply reply)
    {
        foreach (var slice in reply.Slices)
        {
            if (!_cells.TryGetValue(slice.Cell, out var cell))
            {
                _cells[slice.Cell] = cell = new Cell();
            }

            var beat = slice.BeatNanoseconds > 0 ? slice.BeatNanoseconds : 1;
            cell.Watch.Add(slice.Milliseconds, slice.Calls, slice.Nanoseconds, beat, slice.AllocatedBytes ?? 0);
            cell.Curve.Note(slice.Milliseconds, slice.Calls, slice.Nanoseconds, slice.AllocatedBytes ?? 0, 0);
        }
    }

    /// <summary>Whether all are; each counts from the first time it was found to be.</summary>
    /// <param name="leastCalls">Calls a short one must have had.</param>
    /// <param name="milliseconds">Time since warming began.</param>
    public bool AreAllSettled(int leastCalls, double milliseconds)
    {
        var all = true;
        foreach (var cell in _cells.Values)
        {
            var fastest = cell.Watch.FastestNanosecondsPerCall;
            var least = fastest > LongCallNanoseconds ? Math.Min(LeastLongCalls, leastCalls) : leastCalls;
            if (fastest > SlowCallNanoseconds || (cell.Watch.Calls >= least && cell.Watch.IsSteady()))
            {
                cell.SettledMilliseconds ??= milliseconds;
            }

            all &= cell.SettledMilliseconds is not null;
        }

        return all;
    }

    /// <summary>What a cell's way was, added to what its worker tells.</summary>
    public WarmUp Of(WarmUp told)
    {
        if (!_cells.TryGetValue(told.Cell, out var cell))
        {
            return told with { IsSettled = true };
        }

        var (calls, milliseconds) = cell.Curve.UntilFast();
        return told with
        {
            IsSettled = cell.SettledMilliseconds is not null,
            SettledMilliseconds = cell.SettledMilliseconds,
            BytesChangedMilliseconds = cell.Curve.BytesChangedMilliseconds,
            CallsUntilFast = calls,
            MillisecondsUntilFast = milliseconds,
            Curve = cell.Curve.Points(),
        };
    }

    private sealed class Cell
    {
        public WarmUpWatch Watch { get; } = new(WindowMilliseconds);

        public WarmUpCurve Curve { get; } = new();

        public double? SettledMilliseconds { get; set; }
    }
}
