using System.Runtime.CompilerServices;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using Tachyscope.Working;

namespace Tachyscope.Measuring;

/// <summary>One cell's turn in a round: the metronome, some calls thrown away, then its readings, each between two gauges.</summary>
internal static class Turn
{
    /// <summary>Most readings a turn can hold, the metronome's included.</summary>
    public static int MostReadings(int readingsPerTurn) => readingsPerTurn + 1;

    /// <summary>Most gauges it can hold.</summary>
    public static int MostGauges(int readingsPerTurn) => 2 * readingsPerTurn;

    // The first calls after other work are up to a dozen times slow and flat by the eighth. For short calls all eight are
    // cheap; for longer ones the median of the turn's readings absorbs the first.
    private const int CallsThrownAway = 8;
    private const double NanosecondsThrownAway = 20_000;
    private const double MostNanosecondsThrownAway = 60_000;

    // Optimised at once, like all that runs between readings: its recompilation must not fall among them.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static int Take(
        MeasuredCell cell, ReadRequest request, QuietSeeker seeker, Span<Reading> readings, Span<int> gauges, out int calls)
    {
        (var taken, calls) = (0, 0);
        var isSeeking = seeker.IsWanted && cell.Description.Loop.IsOfOneCore();
        if (isSeeking)
        {
            seeker.Seek();
        }

        readings[taken++] = Metronome.Read();
        var warm = cell.WarmUp!;
        if (cell.Description.Kind == CellKind.Metronome)
        {
            return taken;
        }

        ThrowAway(cell, warm);
        var count = cell.Cold?.Readings ?? ReadRequest.ReadingsOf(warm.NanosecondsPerCall * warm.CallsPerReading, request.ReadingsPerTurn);
        var quiet = 0;
        var gauge = Gauge.Read();
        for (var reading = 0; reading < count && quiet < ReadRequest.QuietReadings; reading++)
        {
            if (isSeeking && !seeker.IsQuiet(gauge))
            {
                if (seeker.Seek())
                {
                    ThrowAway(cell, warm);
                }

                gauge = Gauge.Read();
            }

            gauges[2 * reading] = gauge;
            readings[taken] = request.IsCollectionHeld
                ? CellReader.TakeHeld(cell, warm.CallsPerReading)
                : CellReader.Take(cell, warm.CallsPerReading);
            seeker.Earn(readings[taken++].ElapsedNanoseconds);
            gauges[(2 * reading) + 1] = Gauge.Read();
            quiet += seeker.IsQuiet(gauge) && seeker.IsQuiet(gauges[(2 * reading) + 1]) ? 1 : 0;
            gauge = gauges[(2 * reading) + 1];
        }

        calls = CallGauge.Read();
        return taken;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void ThrowAway(MeasuredCell cell, WarmUp warm)
    {
        // What finds its caches empty anyway is thrown away in none.
        var calls = cell.Cold is null ? Math.Min(ThrownAway(warm.NanosecondsPerCall), cell.MostCalls) : 0;
        if (calls > 0)
        {
            Whereabouts.Enter(WorkerPlace.Cell, cell.Index);
            cell.Refill?.Invoke();
            cell.Loop(calls);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    internal static long ThrownAway(double nanosecondsPerCall)
    {
        var calls = Math.Max(CallsThrownAway, Math.Ceiling(NanosecondsThrownAway / Math.Max(nanosecondsPerCall, 0.1)));
        return calls * nanosecondsPerCall <= MostNanosecondsThrownAway
            ? (long)calls
            : (long)(MostNanosecondsThrownAway / nanosecondsPerCall);
    }
}
