using System.Runtime.CompilerServices;
using Tachyscope.Protocol;
using Tachyscope.Runs;
using Tachyscope.Working;

namespace Tachyscope.Measuring;

/// <summary>One cell's turn in a round: the metronome, some calls thrown away, then its readings.</summary>
internal static class Turn
{
    /// <summary>Most readings a turn can hold, the metronome's included.</summary>
    public static int MostReadings(int readingsPerTurn) => readingsPerTurn + 1;

    // The first calls after other work are up to a dozen times slow and flat by the eighth. For short calls all eight are
    // cheap; for longer ones the median of the turn's readings absorbs the first.
    private const int CallsThrownAway = 8;
    private const double NanosecondsThrownAway = 20_000;
    private const double MostNanosecondsThrownAway = 60_000;

    // Optimised at once, like all that runs between readings: its recompilation must not fall among them.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static int Take(MeasuredCell cell, ReadRequest request, Span<Reading> readings)
    {
        var taken = 0;
        readings[taken++] = Metronome.Read();
        var warm = cell.WarmUp!;
        if (cell.Description.Kind == CellKind.Metronome)
        {
            return taken;
        }

        var thrownAway = Math.Min(ThrownAway(warm.NanosecondsPerCall), cell.MostCalls);
        if (thrownAway > 0)
        {
            Whereabouts.Enter(WorkerPlace.Cell, cell.Index);
            cell.Refill?.Invoke();
            cell.Loop(thrownAway);
        }

        var count = ReadRequest.ReadingsOf(warm.NanosecondsPerCall * warm.CallsPerReading, request.ReadingsPerTurn);
        for (var reading = 0; reading < count; reading++)
        {
            readings[taken++] = request.IsCollectionHeld
                ? ReadingTaker.TakeHeld(cell, warm.CallsPerReading)
                : ReadingTaker.Take(cell, warm.CallsPerReading);
        }

        return taken;
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
