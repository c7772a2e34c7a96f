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
    private readonly IReadOnlyList<CellDescription> _cells;
    private readonly Dictionary<LoopShape, double[]> _loops;

    public SittingFigures(SittingRecord sitting)
    {
        _cells = sitting.Cells;
        var rounds = sitting.Readings.Count == 0 ? 0 : sitting.Readings.Max(reading => reading.Round) + 1;
        _raw = Grid(sitting.Cells.Count, rounds);
        _beats = Grid(sitting.Cells.Count, rounds);
        Signals = [.. sitting.Cells.Select(_ => new SignalCount())];
        Fill(sitting);
        MedianBeat = SampleStatistics.Median([.. _allBeats]);
        _loops = Enumerable.Range(0, _cells.Count)
            .Where(cell => _cells[cell].Kind == CellKind.Identity)
            .ToDictionary(cell => _cells[cell].Loop, cell => _raw[cell]);
    }

    /// <summary>What the signals say of each cell's readings.</summary>
    public IReadOnlyList<SignalCount> Signals { get; }

    /// <summary>Median time of one link of the metronome, in nanoseconds.</summary>
    public double MedianBeat { get; }

    /// <summary>Time of one link of the metronome at every turn, in nanoseconds.</summary>
    public IReadOnlyList<double> Beats => _allBeats;

    /// <summary>Index of a cell; null when the sitting has no such cell.</summary>
    public int? Find(CellKind kind, int variant, int input, CallOrder order)
    {
        for (var cell = 0; cell < _cells.Count; cell++)
        {
            if (_cells[cell].Kind == kind && _cells[cell].Variant == variant && _cells[cell].Input == input && _cells[cell].Loop.Order == order)
            {
                return cell;
            }
        }

        return null;
    }

    /// <summary>Median time per call at a stated speed of the machine, without the loop, in nanoseconds.</summary>
    public double MedianTime(int cell, double referenceBeat)
    {
        // What mostly waits does not wait shorter on a faster processor.
        var isCorrected = !Signals[cell].IsMostlyWaiting;
        var times = new double[_raw[cell].Length];
        for (var round = 0; round < times.Length; round++)
        {
            var beat = double.IsNaN(_beats[cell][round]) ? MedianBeat : _beats[cell][round];
            times[round] = Net(cell, round) * (isCorrected ? referenceBeat / beat : 1);
        }

        return SampleStatistics.Median(times);
    }

    /// <summary>Median of the rounds' log ratios of two cells; NaN when most rounds cannot tell them from the empty loop.</summary>
    public double MedianLogRatio(int cell, int reference)
    {
        var ratios = new double[_raw[cell].Length];
        var usable = 0;
        for (var round = 0; round < ratios.Length; round++)
        {
            ratios[round] = Math.Log(Net(cell, round) / Net(reference, round));
            usable += double.IsFinite(ratios[round]) ? 1 : 0;
        }

        return usable * 2 > ratios.Length ? SampleStatistics.Median(ratios) : double.NaN;
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
    private double Net(int cell, int round)
        => _raw[cell][round] - (_loops.TryGetValue(_cells[cell].Loop, out var loop) ? loop[round] : double.NaN);

    private void Fill(SittingRecord sitting)
    {
        var beat = double.NaN;
        var turn = new List<double>(4);
        var readings = sitting.Readings;
        for (var i = 0; i < readings.Count; i++)
        {
            var reading = readings[i];
            if (_cells[reading.Cell].Kind == CellKind.Metronome)
            {
                beat = reading.NanosecondsPerCall;
                _allBeats.Add(beat);
                continue;
            }

            turn.Add(reading.NanosecondsPerCall);
            Signals[reading.Cell].Add(reading);
            var isLastOfTurn = i + 1 == readings.Count || readings[i + 1].Place != reading.Place || readings[i + 1].Round != reading.Round;
            if (isLastOfTurn)
            {
                _raw[reading.Cell][reading.Round] = SampleStatistics.Median(turn.ToArray());
                _beats[reading.Cell][reading.Round] = reading.ElapsedNanoseconds > LongReadingNanoseconds ? double.NaN : beat;
                turn.Clear();
            }
        }
    }
}
