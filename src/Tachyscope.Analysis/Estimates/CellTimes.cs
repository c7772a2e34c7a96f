using System.Runtime.InteropServices;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Estimates;

/// <summary>Times of the cells of a sitting in every round, made of the readings of one state of the core.</summary>
internal sealed class CellTimes
{
    private readonly double[][] _times;
    private readonly double[]?[] _withoutPauses;

    public CellTimes(int cells, int rounds)
    {
        _times = new double[cells][];
        _withoutPauses = new double[]?[cells];
        for (var cell = 0; cell < cells; cell++)
        {
            _times[cell] = new double[rounds];
            Array.Fill(_times[cell], double.NaN);
        }
    }

    /// <summary>Time per call in every round, loop included, in nanoseconds; NaN where there was no such reading.</summary>
    public double[] Of(int cell) => _times[cell];

    /// <summary>The same without what the collector paused the process; the same where it never did.</summary>
    public double[] WithoutPauses(int cell) => _withoutPauses[cell] ?? _times[cell];

    /// <summary>Rounds that have a time.</summary>
    public int Count(int cell) => _times[cell].Count(double.IsFinite);

    /// <summary>Keeps the middle of a turn's readings.</summary>
    /// <param name="cell">The cell.</param>
    /// <param name="round">The round.</param>
    /// <param name="turn">Times of the readings; put in order.</param>
    /// <param name="pauses">What the collector paused in each, per call.</param>
    public void Set(int cell, int round, List<double> turn, List<double> pauses)
    {
        if (turn.Count == 0)
        {
            return;
        }

        if (pauses.Exists(pause => pause > 0) && _withoutPauses[cell] is null)
        {
            _withoutPauses[cell] = [.. _times[cell]];
        }

        if (_withoutPauses[cell] is { } without)
        {
            without[round] = SampleStatistics.Median([.. turn.Zip(pauses, (time, pause) => Math.Max(0, time - pause))]);
        }

        _times[cell][round] = SampleStatistics.Median(CollectionsMarshal.AsSpan(turn));
    }
}
