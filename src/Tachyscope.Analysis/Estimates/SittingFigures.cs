using System.Runtime.InteropServices;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>One sitting's readings put in order: for every cell and round, the median of the turn.</summary>
internal sealed class SittingFigures
{
    // A beat tells of the moment it was read, not of a stretch of time many times as long.
    private const double LongReadingNanoseconds = 1e6;

    private readonly double[][] _raw;
    private readonly double[][] _beats;
    private readonly List<double> _allBeats = [];
    private readonly List<int> _roundsOfBeats = [];
    private double[]? _roundBeats;
    private readonly IReadOnlyList<CellDescription> _cells;
    private readonly Dictionary<(int Worker, LoopShape Loop), double[]> _loops;
    private readonly Dictionary<(CellKind, int, int, CallOrder, int), int> _found = [];
    private readonly int[][] _places;
    private readonly IReadOnlyList<Reading> _readings;
    private readonly List<int>[] _ofCell;
    private readonly double[]?[] _net;
    private readonly bool?[] _isBelow;

    public SittingFigures(SittingRecord sitting)
    {
        _cells = sitting.Cells;
        var rounds = sitting.Readings.Count == 0 ? 0 : sitting.Readings.Max(reading => reading.Round) + 1;
        _raw = Grid(sitting.Cells.Count, rounds);
        _beats = Grid(sitting.Cells.Count, rounds);
        _places = [.. sitting.Cells.Select(_ => new int[rounds])];
        _readings = sitting.Readings;
        _ofCell = [.. sitting.Cells.Select(_ => new List<int>())];
        _net = new double[sitting.Cells.Count][];
        _isBelow = new bool?[sitting.Cells.Count];
        Record = sitting;
        IsApart = sitting.IsApart;
        Repeat = sitting.Repeat;
        Signals = [.. sitting.Cells.Select(_ => new SignalCount())];
        for (var cell = 0; cell < _cells.Count; cell++)
        {
            _found.TryAdd((_cells[cell].Kind, _cells[cell].Variant, _cells[cell].Input, _cells[cell].Loop.Order, _cells[cell].Target), cell);
        }

        Fill(sitting);
        MedianBeat = SampleStatistics.Median([.. _allBeats]);
        double[] broad = [.. Enumerable.Range(0, _cells.Count).Where(cell => _cells[cell].Kind == CellKind.Breadth)
            .SelectMany(cell => Enumerable.Range(0, rounds).Select(round => _raw[cell][round] / _beats[cell][round]))];
        Breadth = SampleStatistics.Median(broad);
        _loops = Enumerable.Range(0, _cells.Count)
            .Where(cell => _cells[cell].Kind == CellKind.Identity)
            .ToDictionary(cell => (_cells[cell].Worker, _cells[cell].Loop), cell => _raw[cell]);
    }

    /// <summary>The sitting.</summary>
    public SittingRecord Record { get; }

    /// <summary>Whether every variant had a worker of its own.</summary>
    public bool IsApart { get; }

    /// <summary>Whether the collector was asked to be kept out of its readings.</summary>
    public bool IsCollectionHeld { get; private set; }

    /// <summary>Repeat of the comparison it belongs to, from 1.</summary>
    public int Repeat { get; }

    /// <summary>What the signals say of each cell's readings.</summary>
    public IReadOnlyList<SignalCount> Signals { get; }

    /// <summary>Median time of one link of the metronome, in nanoseconds.</summary>
    public double MedianBeat { get; }

    /// <summary>Median time of one step of the work that fills the processor, in links of the metronome at the same moment; NaN when it was not read.</summary>
    public double Breadth { get; }

    /// <summary>Time of one link of the metronome at every turn, in nanoseconds.</summary>
    public IReadOnlyList<double> Beats => _allBeats;

    /// <summary>Cells without a single reading.</summary>
    public IEnumerable<CellDescription> Silent => Enumerable.Range(0, _cells.Count).Where(cell => _ofCell[cell].Count == 0).Select(cell => _cells[cell]);

    /// <summary>Readings of the metronomes during which other work took the processor.</summary>
    public int InterruptedBeats { get; private set; }

    /// <summary>The readings of a cell, in the order they were taken.</summary>
    public IEnumerable<Reading> Readings(int cell) => _ofCell[cell].Select(index => _readings[index]);

    /// <summary>Index of a cell; null when the sitting has no such cell.</summary>
    public int? Find(CellKind kind, int variant, int input, CallOrder order, int target)
        => _found.TryGetValue((kind, variant, input, order, target), out var cell) ? cell : null;

    /// <summary>Median time per call at a stated speed of the machine, without the loop, in nanoseconds.</summary>
    public double MedianTime(int cell, double referenceBeat) => SampleStatistics.Median(Times(cell, referenceBeat));

    /// <summary>Time per call in every round, at a stated speed of the machine and without the loop, in nanoseconds; NaN where it took no part.</summary>
    public double[] Times(int cell, double referenceBeat)
    {
        // What mostly waits does not wait shorter on a faster processor.
        var isCorrected = !Signals[cell].IsMostlyWaiting;
        double[] times = [.. NetTimes(cell)];
        for (var round = 0; isCorrected && round < times.Length; round++)
        {
            times[round] *= referenceBeat / Beat(cell, round);
        }

        return times;
    }

    /// <summary>
    /// Time per call in every round, as <see cref="Times"/> has it, at the speed of that round: a reading many times as long as a
    /// beat has the median beat of its round.
    /// </summary>
    public double[] TimesAtRoundSpeed(int cell, double referenceBeat)
    {
        double[] times = [.. NetTimes(cell)];
        for (var round = 0; round < times.Length; round++)
        {
            var beat = _beats[cell][round];
            times[round] *= referenceBeat / (double.IsNaN(beat) ? RoundBeats[round] : beat);
        }

        return times;
    }

    /// <summary>Place of the cell's turn in every round.</summary>
    public IReadOnlyList<int> Places(int cell) => _places[cell];

    /// <summary>Median of the rounds' log ratios of two cells; NaN when most rounds cannot tell them from the empty loop.</summary>
    public double MedianLogRatio(int cell, int reference)
    {
        var ratios = LogRatios(cell, reference);
        var taken = Enumerable.Range(0, ratios.Length).Count(round => !double.IsNaN(_raw[cell][round]) && !double.IsNaN(_raw[reference][round]));
        return ratios.Count(double.IsFinite) * 2 > taken ? SampleStatistics.Median(ratios) : double.NaN;
    }

    /// <summary>
    /// Spread of the rounds' log ratios of two cells and the standard error of their median: 1.2533 σ / √n with σ from the
    /// median of absolute deviations (1.4826 times).
    /// </summary>
    public double StandardErrorOfLogRatio(int cell, int reference)
    {
        double[] usable = [.. LogRatios(cell, reference).Where(double.IsFinite)];
        var median = SampleStatistics.Median(usable);
        return 1.2533 * 1.4826 * SampleStatistics.Median([.. usable.Select(ratio => Math.Abs(ratio - median))]) / Math.Sqrt(Math.Max(1, usable.Length));
    }

    /// <summary>Log ratio of two cells in every round; not finite where one took no part or cannot be told from the empty loop.</summary>
    /// <remarks>A cell that is below what its loop can tell from nothing counts as just that long; the ratio of two such cells is not known.</remarks>
    public double[] LogRatios(int cell, int reference)
    {
        // Read on one processor at nearly one moment, both had the same speed, and a single beat would only add its noise. Two
        // workers that were not held to one processor are each compared with a beat of their own.
        var isApart = _cells[cell].Worker != _cells[reference].Worker && !Record.IsPinned && !Signals[cell].IsMostlyWaiting;
        var (own, others) = (NetTimes(cell), NetTimes(reference));
        var (isBelow, isReferenceBelow) = (IsBelow(cell), IsBelow(reference));
        var ratios = new double[own.Length];
        for (var round = 0; round < ratios.Length; round++)
        {
            var (time, other) = (isBelow ? Floor(own[round], cell) : own[round], isReferenceBelow ? Floor(others[round], reference) : others[round]);
            ratios[round] = isBelow && isReferenceBelow ? double.NaN
                : Math.Log(time / other) - (isApart ? Math.Log(Beat(cell, round) / Beat(reference, round)) : 0);
        }

        return ratios;
    }

    private double Floor(double taken, int cell) => double.IsNaN(taken) ? taken : _cells[cell].Loop.FloorNanoseconds();

    private bool IsBelow(int cell) => _isBelow[cell] ??= SampleStatistics.Median(NetTimes(cell)) <= _cells[cell].Loop.FloorNanoseconds();

    private double Beat(int cell, int round) => double.IsNaN(_beats[cell][round]) ? MedianBeat : _beats[cell][round];

    private double[] RoundBeats => _roundBeats ??= FoundRoundBeats();

    private double[] FoundRoundBeats()
    {
        var beats = _roundsOfBeats.Zip(_allBeats).ToLookup(pair => pair.First, pair => pair.Second);
        return [.. Enumerable.Range(0, _raw[0].Length).Select(round => SampleStatistics.Median([.. beats[round]]))];
    }

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

    // The identity loop of the same round; the same speed of the machine applies to both.
    private double[] NetTimes(int cell) => _net[cell] ??= FoundNetTimes(cell);

    private double[] FoundNetTimes(int cell)
    {
        var net = new double[_raw[cell].Length];
        var loop = _loops.GetValueOrDefault((_cells[cell].Worker, _cells[cell].Loop));
        for (var round = 0; round < net.Length; round++)
        {
            net[round] = loop is null ? double.NaN : _raw[cell][round] - loop[round];
        }

        return net;
    }

    private void Fill(SittingRecord sitting)
    {
        var beat = double.NaN;
        var turn = new List<double>(4);
        var readings = ReadingSpan.Of(sitting.Readings);
        for (var i = 0; i < readings.Length; i++)
        {
            ref readonly var reading = ref readings[i];
            _ofCell[reading.Cell].Add(i);
            if (_cells[reading.Cell].Kind == CellKind.Metronome)
            {
                beat = reading.NanosecondsPerCall;
                _allBeats.Add(beat);
                _roundsOfBeats.Add(reading.Round);
                InterruptedBeats += SignalCount.IsInterrupted(reading) ? 1 : 0;
                continue;
            }

            turn.Add(reading.NanosecondsPerCall);
            Signals[reading.Cell].Add(reading);
            IsCollectionHeld |= reading.IsCollectionHeld is not null;
            var isLastOfTurn = i + 1 == readings.Length || readings[i + 1].Place != reading.Place || readings[i + 1].Round != reading.Round;
            if (isLastOfTurn)
            {
                _raw[reading.Cell][reading.Round] = SampleStatistics.Median(CollectionsMarshal.AsSpan(turn));
                _places[reading.Cell][reading.Round] = reading.Place;
                _beats[reading.Cell][reading.Round] = reading.ElapsedNanoseconds > LongReadingNanoseconds ? double.NaN : beat;
                turn.Clear();
            }
        }
    }
}
