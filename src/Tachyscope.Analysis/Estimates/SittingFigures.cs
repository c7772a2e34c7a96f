using System.Runtime.CompilerServices;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// One sitting's times without the loop and at a stated speed of the machine, and what two of its cells come to by rounds.
/// </summary>
/// <remarks>Made once for a sitting and kept with it: while measuring goes on, only the last one is new.</remarks>
internal sealed class SittingFigures
{
    private static readonly ConditionalWeakTable<SittingRecord, SittingFigures> Made = [];

    private readonly Dictionary<(int Worker, LoopShape Loop), double[]> _loops;
    private readonly double[]?[] _net;
    // NaN until it is asked for; written whole, since a display may look while a run is judged.
    private readonly double[] _medianLinks;
    private readonly Lock _gate = new();
    private readonly Dictionary<(int Cell, int Reference, double? AtMost, double? ReferenceAtMost), double> _medianLogRatios = [];

    private SittingFigures(SittingRecord sitting)
    {
        Taken = new SittingReadings(sitting);
        _net = new double[sitting.Cells.Count][];
        _medianLinks = new double[sitting.Cells.Count];
        Array.Fill(_medianLinks, double.NaN);
        var cells = Enumerable.Range(0, sitting.Cells.Count);
        double[] broad = [.. cells.Where(cell => sitting.Cells[cell].Kind == CellKind.Breadth)
            .SelectMany(cell => Taken.Times(cell).Zip(Taken.Beats(cell), (time, beat) => time / beat))];
        Breadth = SampleStatistics.Median(broad);
        _loops = cells.Where(cell => sitting.Cells[cell].Kind == CellKind.Identity)
            .ToDictionary(cell => (sitting.Cells[cell].Worker, sitting.Cells[cell].Loop), Taken.Times);
    }

    /// <summary>What was read.</summary>
    public SittingReadings Taken { get; }

    /// <summary>The sitting.</summary>
    public SittingRecord Record => Taken.Record;

    /// <summary>What the signals say of each cell's readings.</summary>
    public IReadOnlyList<SignalCount> Signals => Taken.Signals;

    /// <summary>Median time of one step of the work that fills the processor, in links of the metronome at the same moment; NaN when it was not read.</summary>
    public double Breadth { get; }

    /// <summary>The figures of a sitting.</summary>
    public static SittingFigures Of(SittingRecord sitting) => Made.GetValue(sitting, made => new SittingFigures(made));

    /// <summary>Median time per call at a stated speed of the machine, without the loop, in nanoseconds.</summary>
    public double MedianTime(int cell, double referenceBeat)
    {
        var links = _medianLinks[cell];
        if (double.IsNaN(links))
        {
            _medianLinks[cell] = links = SampleStatistics.Median(InLinks(cell, NetTimes(cell)));
        }

        return links * (IsCorrected(cell) ? referenceBeat : 1);
    }

    /// <summary>
    /// The same with collections paid: the median without pauses, and the pauses of all readings spread over their calls.
    /// </summary>
    /// <remarks>A collection falls into few readings, so that a median has none of it or nearly all.</remarks>
    public double PaidTime(int cell, double referenceBeat)
    {
        var signals = Signals[cell];
        if (signals.PauseNanoseconds == 0)
        {
            return MedianTime(cell, referenceBeat);
        }

        var isCorrected = IsCorrected(cell);
        var without = SampleStatistics.Median(InLinks(cell, WithoutLoop(cell, Taken.TimesWithoutPauses(cell))));
        return (without * (isCorrected ? referenceBeat : 1))
            + ((double)signals.PauseNanoseconds / signals.Calls * (isCorrected ? referenceBeat / Taken.MedianBeat : 1));
    }

    /// <summary>
    /// Time per call in every round, without the loop, at the speed of that round, in nanoseconds: a reading many times as long as
    /// a beat has the median beat of its round.
    /// </summary>
    public double[] TimesAtRoundSpeed(int cell, double referenceBeat)
    {
        double[] times = [.. NetTimes(cell)];
        for (var round = 0; round < times.Length; round++)
        {
            var beat = Taken.Beats(cell)[round];
            times[round] *= referenceBeat / (double.IsNaN(beat) ? Taken.RoundBeats[round] : beat);
        }

        return times;
    }

    /// <summary>
    /// Median of the rounds' log ratios of two cells; NaN when no round has both, infinite when most have no time of one of them.
    /// </summary>
    /// <param name="cell">The cell.</param>
    /// <param name="reference">The cell it is compared with.</param>
    /// <param name="atMost">What the cell takes at most, in nanoseconds, where that is all that is known.</param>
    /// <param name="referenceAtMost">The same of the other.</param>
    public double MedianLogRatio(int cell, int reference, double? atMost = null, double? referenceAtMost = null)
    {
        var key = (cell, reference, atMost, referenceAtMost);
        lock (_gate)
        {
            return _medianLogRatios.TryGetValue(key, out var found) ? found
                : _medianLogRatios[key] = RoundRatios.Median(LogRatios(cell, reference, atMost, referenceAtMost));
        }
    }

    /// <summary>
    /// Spread of the rounds' log ratios of two cells and the standard error of their median: 1.2533 σ / √n with σ from the
    /// median of absolute deviations (1.4826 times).
    /// </summary>
    public double StandardErrorOfLogRatio(int cell, int reference)
    {
        double[] usable = [.. LogRatios(cell, reference).Where(double.IsFinite)];
        var median = SampleStatistics.Median(usable);
        var deviation = 1.4826 * SampleStatistics.Median([.. usable.Select(ratio => Math.Abs(ratio - median))]);
        return 1.2533 * deviation / Math.Sqrt(Math.Max(1, usable.Length));
    }

    /// <summary>Log ratio of two cells in every round, as <see cref="RoundRatios"/> has it; NaN where one took no part.</summary>
    /// <param name="cell">The cell.</param>
    /// <param name="reference">The cell it is compared with.</param>
    /// <param name="atMost">What the cell takes at most, in nanoseconds, where that is all that is known.</param>
    /// <param name="referenceAtMost">The same of the other.</param>
    public double[] LogRatios(int cell, int reference, double? atMost = null, double? referenceAtMost = null)
    {
        var ratios = RoundRatios.Logs(NetTimes(cell), NetTimes(reference), atMost, referenceAtMost);
        // Read on one processor at nearly one moment, both had the same speed, and a single beat would only add its noise. Two
        // workers that were not held to one processor are each compared with a beat of their own.
        if (Record.Cells[cell].Worker != Record.Cells[reference].Worker && !Record.IsPinned && IsCorrected(cell))
        {
            for (var round = 0; round < ratios.Length; round++)
            {
                ratios[round] -= Math.Log(Beat(cell, round) / Beat(reference, round));
            }
        }

        return ratios;
    }

    // What mostly waits does not wait shorter on a faster processor.
    private bool IsCorrected(int cell) => !Signals[cell].IsMostlyWaiting;

    private double Beat(int cell, int round) => Taken.Beats(cell)[round] is var beat && double.IsNaN(beat) ? Taken.MedianBeat : beat;

    // In links of the metronome, so that the speed they are stated at can be chosen later.
    private double[] InLinks(int cell, double[] times)
        => IsCorrected(cell) ? [.. times.Select((time, round) => time / Beat(cell, round))] : times;

    private double[] NetTimes(int cell) => _net[cell] ??= WithoutLoop(cell, Taken.Times(cell));

    // The identity loop of the same round; the same speed of the machine applies to both.
    private double[] WithoutLoop(int cell, double[] times)
    {
        var loop = _loops.GetValueOrDefault((Record.Cells[cell].Worker, Record.Cells[cell].Loop));
        return [.. times.Select((time, round) => loop is null ? double.NaN : time - loop[round])];
    }
}
