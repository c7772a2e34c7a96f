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
    /// <summary>Looks at a sitting.</summary>
    /// <param name="sitting">The sitting.</param>
    /// <remarks>
    /// A round counts among them where methods were compiled in it, and some cell took more than <see cref="CoreCovariate.MostBySharing"/>
    /// times as long until then as after it, of the clock and of the processor: nothing else that is compiled at its time costs so much.
    /// </remarks>
    public static EarlyRounds Of(SittingRecord sitting)
    {
        var readings = ReadingSpan.Of(sitting.Readings);
        var rounds = RoundsWithCompilation(readings, sitting.Cells.Count);
        var none = new EarlyRounds(sitting, 0, null, 1);
        if (rounds.Count == 0)
        {
            return none;
        }

        var last = 0;
        var cells = new RoundTimes[sitting.Cells.Count];
        foreach (ref readonly var reading in readings)
        {
            (cells[reading.Cell] ??= new RoundTimes()).Add(reading);
            last = Math.Max(last, reading.Round);
        }

        var found = none;
        foreach (var round in rounds.TakeWhile(round => round < last))
        {
            var (ratio, cell) = Enumerable.Range(0, cells.Length)
                .Where(cell => sitting.Cells[cell].Kind is CellKind.Variant or CellKind.Twin && cells[cell] is not null)
                .Select(cell => (Ratio: cells[cell].Ratio(found.Count, round), cell))
                .Where(cell => cell.Ratio > CoreCovariate.MostBySharing).DefaultIfEmpty((1, 0)).Max();
            if (ratio > 1)
            {
                found = ratio > found.TimeRatio
                    ? found with { Count = round + 1, Cell = sitting.Cells[cell], TimeRatio = ratio }
                    : found with { Count = round + 1 };
            }
        }

        return found.Count == 0
            ? none
            : found with { Sitting = sitting with { Readings = [.. sitting.Readings.Where(reading => reading.Round >= found.Count)] } };
    }

    // Of those that do not make code at every call.
    private static SortedSet<int> RoundsWithCompilation(ReadOnlySpan<Reading> readings, int cells)
    {
        var (taken, compiling) = (new int[cells], new int[cells]);
        foreach (ref readonly var reading in readings)
        {
            taken[reading.Cell]++;
            compiling[reading.Cell] += reading.CompiledMethods > 0 ? 1 : 0;
        }

        var rounds = new SortedSet<int>();
        foreach (ref readonly var reading in readings)
        {
            if (reading.CompiledMethods > 0 && !SignalCount.IsOfCompiling(taken[reading.Cell], compiling[reading.Cell]))
            {
                rounds.Add(reading.Round);
            }
        }

        return rounds;
    }

    // What a cell took in every round, in nanoseconds a call.
    private sealed class RoundTimes
    {
        private readonly Dictionary<int, (List<double> Elapsed, List<double> Processor)> _rounds = [];

        public void Add(in Reading reading)
        {
            if (!_rounds.TryGetValue(reading.Round, out var round))
            {
                _rounds.Add(reading.Round, round = ([], []));
            }

            round.Elapsed.Add(reading.NanosecondsPerCall);
            if (reading.ProcessorNanoseconds is { } processor)
            {
                round.Processor.Add((double)processor / reading.Calls);
            }
        }

        // How many times as long it took from the first of some rounds to the last as after them.
        public double Ratio(int first, int last)
        {
            var elapsed = Ratio(first, last, round => round.Elapsed);
            var processor = Ratio(first, last, round => round.Processor);
            return double.IsNaN(processor) ? elapsed : Math.Min(elapsed, processor);
        }

        private double Ratio(int first, int last, Func<(List<double> Elapsed, List<double> Processor), List<double>> times)
        {
            double[] Medians(Func<int, bool> isMeant) => [.. _rounds.Where(round => isMeant(round.Key) && times(round.Value).Count > 0)
                .Select(round => SampleStatistics.Median([.. times(round.Value)]))];
            var (before, after) = (Medians(round => round >= first && round <= last), Medians(round => round > last));
            return before.Length == 0 || after.Length == 0
                ? double.NaN
                : SampleStatistics.Median(before) / SampleStatistics.Median(after);
        }
    }
}
