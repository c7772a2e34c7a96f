using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// The first rounds of a sitting where they read code that was then optimised in the midst of its readings: beside much load, which the
/// thread that optimises suffers from too, a sitting can count as warm before it is.
/// </summary>
/// <param name="Sitting">The sitting without them; the sitting itself where there are none.</param>
/// <param name="Count">How many rounds that are.</param>
/// <param name="Cell">The cell that changed most; null where none did.</param>
/// <param name="TimeRatio">How many times as long it took in them.</param>
internal sealed record EarlyRounds(SittingRecord Sitting, int Count, CellDescription? Cell, double TimeRatio)
{
    // Of a cell, before and after: fewer may all be slow by chance.
    private const int FewestReadings = 3;

    /// <summary>Looks at a sitting.</summary>
    /// <param name="sitting">The sitting.</param>
    /// <remarks>
    /// Methods were compiled during a reading, and every reading of some cell until then took more than
    /// <see cref="CoreCovariate.MostBySharing"/> times as long as the middle of those after it, of the clock and of the processor: nothing
    /// else that comes by at such a time costs so much every time.
    /// </remarks>
    public static EarlyRounds Of(SittingRecord sitting)
    {
        var readings = ReadingSpan.Of(sitting.Readings);
        var found = new EarlyRounds(sitting, 0, null, 1);
        var begin = 0;
        foreach (var at in LastCompilations(readings, sitting.Cells.Count))
        {
            var (ratio, cell) = MostSlow(sitting, readings, begin, at);
            if (ratio > CoreCovariate.MostBySharing)
            {
                (begin, found) = (at + 1, found with { Count = readings[at].Round + 1 });
                found = ratio > found.TimeRatio ? found with { Cell = sitting.Cells[cell], TimeRatio = ratio } : found;
            }
        }

        return found.Count == 0
            ? found
            : found with { Sitting = sitting with { Readings = [.. sitting.Readings.Where(reading => reading.Round >= found.Count)] } };
    }

    // The last reading of each round in which methods were compiled, those left aside that make code at every call.
    private static List<int> LastCompilations(ReadOnlySpan<Reading> readings, int cells)
    {
        var (taken, compiling) = (new int[cells], new int[cells]);
        foreach (ref readonly var reading in readings)
        {
            taken[reading.Cell]++;
            compiling[reading.Cell] += reading.CompiledMethods > 0 ? 1 : 0;
        }

        var last = new List<int>();
        for (var at = 0; at < readings.Length; at++)
        {
            ref readonly var reading = ref readings[at];
            if (reading.CompiledMethods == 0 || SignalCount.IsOfCompiling(taken[reading.Cell], compiling[reading.Cell]))
            {
                continue;
            }

            if (last.Count > 0 && readings[last[^1]].Round == reading.Round)
            {
                last.RemoveAt(last.Count - 1);
            }

            last.Add(at);
        }

        return last;
    }

    private static (double TimeRatio, int Cell) MostSlow(SittingRecord sitting, ReadOnlySpan<Reading> readings, int begin, int at)
    {
        var times = new BothSides[sitting.Cells.Count];
        for (var index = begin; index < readings.Length; index++)
        {
            ref readonly var reading = ref readings[index];
            if (index != at && sitting.Cells[reading.Cell].Kind is CellKind.Variant or CellKind.Twin)
            {
                (times[reading.Cell] ??= new BothSides()).Add(reading, isBefore: index < at);
            }
        }

        return times.Select((cell, index) => (cell?.Ratio ?? 1, index)).MaxBy(cell => cell.Item1);
    }

    // What a cell took a call, in nanoseconds, by the clock and by the processor where that is known.
    private sealed class BothSides
    {
        private readonly List<double>[] _elapsed = [[], []];
        private readonly List<double>[] _processor = [[], []];

        // How many times as long it took before, at least, as in the middle of those after.
        public double Ratio => _elapsed.Any(times => times.Count < FewestReadings) ? 1
            : Math.Min(Least(_elapsed), _processor.Any(times => times.Count == 0) ? double.PositiveInfinity : Least(_processor));

        public void Add(in Reading reading, bool isBefore)
        {
            _elapsed[isBefore ? 0 : 1].Add(reading.NanosecondsPerCall);
            if (reading.ProcessorNanoseconds is { } processor)
            {
                _processor[isBefore ? 0 : 1].Add((double)processor / reading.Calls);
            }
        }

        private static double Least(List<double>[] times) => times[0].Min() / SampleStatistics.Median([.. times[1]]);
    }
}
