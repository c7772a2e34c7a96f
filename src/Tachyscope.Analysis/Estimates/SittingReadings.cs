using System.Runtime.InteropServices;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>One sitting's readings put in order: for every cell and round, the median of the turn as it was read.</summary>
internal sealed class SittingReadings
{
    // A beat tells of the moment it was read, not of a stretch of time many times as long.
    private const double LongReadingNanoseconds = 1e6;

    private readonly double[][] _times;
    private readonly double[]?[] _timesWithoutPauses;
    private readonly double[][] _beats;
    private readonly int[][] _places;
    private readonly List<int>[] _ofCell;
    private readonly List<double> _allBeats = [];
    private readonly List<int> _roundsOfBeats = [];
    private readonly Dictionary<(CellKind, int, int, CallOrder, int), int> _found = [];
    private readonly Lazy<double[]> _roundBeats;

    public SittingReadings(SittingRecord sitting)
    {
        Record = sitting;
        var cells = sitting.Cells.Count;
        Rounds = sitting.Readings.Count == 0 ? 0 : sitting.Readings.Max(reading => reading.Round) + 1;
        _times = Grid(cells, Rounds);
        _timesWithoutPauses = new double[]?[cells];
        _beats = Grid(cells, Rounds);
        _places = [.. sitting.Cells.Select(_ => new int[Rounds])];
        _ofCell = [.. sitting.Cells.Select(_ => new List<int>())];
        Signals = [.. sitting.Cells.Select(_ => new SignalCount())];
        for (var cell = 0; cell < cells; cell++)
        {
            var found = sitting.Cells[cell];
            _found.TryAdd((found.Kind, found.Variant, found.Input, found.Loop.Order, found.Target), cell);
        }

        Fill(sitting);
        MedianBeat = SampleStatistics.Median([.. _allBeats]);
        _roundBeats = new Lazy<double[]>(FoundRoundBeats);
    }

    /// <summary>The sitting.</summary>
    public SittingRecord Record { get; }

    /// <summary>Rounds of which something was read.</summary>
    public int Rounds { get; }

    /// <summary>Whether the collector was asked to be kept out of its readings.</summary>
    public bool IsCollectionHeld { get; private set; }

    /// <summary>What the signals say of each cell's readings.</summary>
    public IReadOnlyList<SignalCount> Signals { get; }

    /// <summary>Median time of one link of the metronome, in nanoseconds.</summary>
    public double MedianBeat { get; }

    /// <summary>Time of one link of the metronome at every turn, in nanoseconds.</summary>
    public IReadOnlyList<double> AllBeats => _allBeats;

    /// <summary>Its median in every round, in nanoseconds.</summary>
    public IReadOnlyList<double> RoundBeats => _roundBeats.Value;

    /// <summary>Readings of the metronomes during which other work took the processor.</summary>
    public int InterruptedBeats { get; private set; }

    /// <summary>Cells without a single reading.</summary>
    public IEnumerable<CellDescription> Silent
        => Enumerable.Range(0, Record.Cells.Count).Where(cell => _ofCell[cell].Count == 0).Select(cell => Record.Cells[cell]);

    /// <summary>The readings of a cell, in the order they were taken.</summary>
    public IEnumerable<Reading> Of(int cell) => _ofCell[cell].Select(index => Record.Readings[index]);

    /// <summary>Index of a cell; null when the sitting has no such cell.</summary>
    public int? Find(CellKind kind, int variant, int input, CallOrder order, int target)
        => _found.TryGetValue((kind, variant, input, order, target), out var cell) ? cell : null;

    /// <summary>Time per call in every round, loop included, in nanoseconds; NaN where it took no part.</summary>
    public double[] Times(int cell) => _times[cell];

    /// <summary>The same without what the collector paused the process; the same where it never did.</summary>
    public double[] TimesWithoutPauses(int cell) => _timesWithoutPauses[cell] ?? _times[cell];

    /// <summary>
    /// Time of one link of the metronome at the cell's turn in every round, in nanoseconds; NaN for readings many times as long.
    /// </summary>
    public double[] Beats(int cell) => _beats[cell];

    /// <summary>Place of the cell's turn in every round.</summary>
    public IReadOnlyList<int> Places(int cell) => _places[cell];

    private static double[][] Grid(int cells, int rounds)
    {
        var grid = new double[cells][];
        for (var cell = 0; cell < cells; cell++)
        {
            grid[cell] = new double[rounds];
            Array.Fill(grid[cell], double.NaN);
        }

        return grid;
    }

    private double[] FoundRoundBeats()
    {
        var beats = _roundsOfBeats.Zip(_allBeats).ToLookup(pair => pair.First, pair => pair.Second);
        return [.. Enumerable.Range(0, Rounds).Select(round => SampleStatistics.Median([.. beats[round]]))];
    }

    private void Fill(SittingRecord sitting)
    {
        var beat = double.NaN;
        var (turn, pauses) = (new List<double>(4), new List<double>(4));
        var readings = ReadingSpan.Of(sitting.Readings);
        for (var i = 0; i < readings.Length; i++)
        {
            ref readonly var reading = ref readings[i];
            _ofCell[reading.Cell].Add(i);
            if (sitting.Cells[reading.Cell].Kind == CellKind.Metronome)
            {
                beat = reading.NanosecondsPerCall;
                _allBeats.Add(beat);
                _roundsOfBeats.Add(reading.Round);
                InterruptedBeats += SignalCount.IsInterrupted(reading) ? 1 : 0;
                continue;
            }

            turn.Add(reading.NanosecondsPerCall);
            pauses.Add((double)reading.PauseNanoseconds / reading.Calls);
            Signals[reading.Cell].Add(reading);
            IsCollectionHeld |= reading.IsCollectionHeld is not null;
            var isLastOfTurn = i + 1 == readings.Length || readings[i + 1].Place != reading.Place || readings[i + 1].Round != reading.Round;
            if (isLastOfTurn)
            {
                EndTurn(reading, beat, turn, pauses);
            }
        }
    }

    private void EndTurn(in Reading last, double beat, List<double> turn, List<double> pauses)
    {
        var (cell, round) = (last.Cell, last.Round);
        _times[cell][round] = SampleStatistics.Median(CollectionsMarshal.AsSpan(turn));
        _places[cell][round] = last.Place;
        _beats[cell][round] = last.ElapsedNanoseconds > LongReadingNanoseconds ? double.NaN : beat;
        if (pauses.Exists(pause => pause > 0) && _timesWithoutPauses[cell] is null)
        {
            _timesWithoutPauses[cell] = [.. _times[cell]];
        }

        if (_timesWithoutPauses[cell] is { } without)
        {
            without[round] = SampleStatistics.Median([.. turn.Zip(pauses, (time, pause) => Math.Max(0, time - pause))]);
        }

        turn.Clear();
        pauses.Clear();
    }
}
