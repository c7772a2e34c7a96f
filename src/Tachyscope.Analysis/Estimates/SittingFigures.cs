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
    // Fewer rounds of more are chance: a sitting that has no more of a cell has nothing of it to tell in that state.
    private const int LeastRounds = 3;

    // So many rounds of both, or half of what there is, and two cells are compared round by round.
    private const int LeastPairedRounds = 5;

    private static readonly CoreState[] States = Enum.GetValues<CoreState>();
    private static readonly ConditionalWeakTable<SittingRecord, SittingFigures[]> Made = [];

    private readonly Dictionary<(int Worker, LoopShape Loop), int> _loops;
    private readonly double[]?[] _net;
    // NaN until it is asked for; written whole, since a display may look while a run is judged.
    private readonly double[] _middleLinks;
    private readonly Lock _gate = new();
    private readonly Dictionary<(int Cell, int Reference, double? AtMost, double? ReferenceAtMost), double> _logRatios = [];

    private SittingFigures(SittingReadings taken, CoreState state)
    {
        (Taken, State) = (taken, state);
        _net = new double[Record.Cells.Count][];
        _middleLinks = new double[Record.Cells.Count];
        Array.Fill(_middleLinks, double.NaN);
        _loops = Enumerable.Range(0, Record.Cells.Count).Where(cell => Record.Cells[cell].Kind == CellKind.Identity)
            .ToDictionary(cell => (Record.Cells[cell].Worker, Record.Cells[cell].Loop));
    }

    /// <summary>What was read.</summary>
    public SittingReadings Taken { get; }

    /// <summary>Which of the readings these figures are made of.</summary>
    public CoreState State { get; }

    /// <summary>The sitting.</summary>
    public SittingRecord Record => Taken.Record;

    /// <summary>What the signals say of each cell's readings.</summary>
    public IReadOnlyList<SignalCount> Signals => Taken.Signals;

    /// <summary>The figures of a sitting.</summary>
    /// <param name="sitting">The sitting.</param>
    /// <param name="state">Which of its readings they are to be made of.</param>
    public static SittingFigures Of(SittingRecord sitting, CoreState state)
        => Made.GetValue(sitting, static made =>
        {
            var taken = new SittingReadings(made);
            return [.. States.Select(state => new SittingFigures(taken, state))];
        })[(int)state];

    /// <summary>Whether a cell has enough readings of this state for a figure.</summary>
    public bool HasEnough(int cell)
        => Taken.Times(State).Count(cell) is > 0 and var own && own >= Math.Min(LeastRounds, Taken.Times(CoreState.Any).Count(cell));

    /// <summary>Time per call in the middle half of the rounds, at a stated speed of the machine, without the loop.</summary>
    /// <returns>In nanoseconds.</returns>
    public double MiddleTime(int cell, double referenceBeat)
    {
        var links = _middleLinks[cell];
        if (double.IsNaN(links))
        {
            _middleLinks[cell] = links = Middle(InLinks(cell, NetTimes(cell)), cell);
        }

        return links * (IsCorrected(cell) ? referenceBeat : 1);
    }

    /// <summary>
    /// The same with collections paid: without pauses, and the pauses of all readings spread over their calls.
    /// </summary>
    /// <remarks>A collection falls into few readings, so that the middle half has none of it or nearly all.</remarks>
    public double PaidTime(int cell, double referenceBeat)
    {
        var signals = Signals[cell];
        if (signals.PauseNanoseconds == 0)
        {
            return MiddleTime(cell, referenceBeat);
        }

        var isCorrected = IsCorrected(cell);
        var without = Middle(InLinks(cell, WithoutLoop(cell, Chosen(cell).WithoutPauses(cell))), cell);
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
    /// Middle of the rounds' log ratios of two cells; NaN when no round has both, infinite when most have no time of one of them.
    /// </summary>
    /// <param name="cell">The cell.</param>
    /// <param name="reference">The cell it is compared with.</param>
    /// <param name="atMost">What the cell takes at most, in nanoseconds, where that is all that is known.</param>
    /// <param name="referenceAtMost">The same of the other.</param>
    public double MiddleLogRatio(int cell, int reference, double? atMost = null, double? referenceAtMost = null)
    {
        // What is not known to be of a quiet core is compared with what was read likewise, whoever shared it.
        if (State != CoreState.Any && Taken.IsUngauged(cell) != Taken.IsUngauged(reference))
        {
            return Of(Record, CoreState.Any).MiddleLogRatio(cell, reference, atMost, referenceAtMost);
        }

        var key = (cell, reference, atMost, referenceAtMost);
        lock (_gate)
        {
            return _logRatios.TryGetValue(key, out var found) ? found
                : _logRatios[key] = FoundLogRatio(cell, reference, atMost, referenceAtMost);
        }
    }

    // In the rounds both took part in, which had one state of the machine; where these are few, by the middle of either's own.
    private double FoundLogRatio(int cell, int reference, double? atMost, double? referenceAtMost)
    {
        var logs = LogRatios(cell, reference, atMost, referenceAtMost);
        var (both, fewer) = (logs.Count(log => !double.IsNaN(log)), Math.Min(Count(cell), Count(reference)));
        return both == 0 && (atMost ?? referenceAtMost) is not null || both >= LeastPairedRounds || 2 * both >= fewer
            ? Middle(logs, cell)
            : Math.Log(MiddleTime(cell, 1) / MiddleTime(reference, 1));

        int Count(int of) => NetTimes(of).Count(time => !double.IsNaN(time));
    }

    // The mean over the copies of the code of the middle over their rounds: each copy drew its place anew.
    private double Middle(double[] rounds, int cell)
    {
        if (!Taken.HasCopies(cell) || Array.Exists(rounds, double.IsInfinity))
        {
            return RoundRatios.Middle(rounds);
        }

        var copies = Taken.Copies(cell);
        return SampleStatistics.Mean([.. rounds.Select((value, round) => (Copy: copies[round], Value: value))
            .Where(round => !double.IsNaN(round.Value)).GroupBy(round => round.Copy, round => round.Value)
            .Select(copy => RoundRatios.Middle([.. copy]))]);
    }

    /// <summary>
    /// Standard error of the middle of the rounds' log ratios of two cells, by their spread about the median of their copy.
    /// </summary>
    public double StandardErrorOfLogRatio(int cell, int reference)
    {
        double[] deviations = [.. LogsByCopy(cell, reference).SelectMany(copy =>
        {
            var median = SampleStatistics.Median(copy.Logs);
            return copy.Logs.Select(ratio => Math.Abs(ratio - median));
        })];
        return SampleStatistics.MiddleHalfErrors(deviations.Length) * SampleStatistics.NormalDeviations
            * SampleStatistics.Median(deviations) / Math.Sqrt(Math.Max(1, deviations.Length));
    }

    /// <summary>
    /// A cell's time in links of the metronome in every round, or its ratio to another's, whoever shared the core, and how much it was
    /// shared; only rounds of which both is known.
    /// </summary>
    /// <param name="cell">The cell.</param>
    /// <param name="reference">The cell it is compared with; null for its own time.</param>
    /// <param name="areCallsUnforeseen">Whether calls are foreseen only where the core is shared.</param>
    public CoreCovariate.Rounds RoundsOfAnyCore(int cell, int? reference, bool areCallsUnforeseen)
    {
        var all = Of(Record, CoreState.Any);
        var logs = reference is { } other
            ? all.LogRatios(cell, other)
            : ByRound(all.InLinks(cell, all.NetTimes(cell)), (time, _) => Math.Log(time));
        var own = Taken.SharedShares(cell);
        var others = reference is { } second ? Taken.SharedShares(second) : null;
        int[] known = [.. Enumerable.Range(0, logs.Length).Where(round
            => double.IsFinite(logs[round]) && double.IsFinite(own[round]) && double.IsFinite(others?[round] ?? 0))];
        var copies = Taken.Copies(cell);
        return new([.. known.Select(round => logs[round])], [.. known.Select(round => own[round])],
            others is null ? null : [.. known.Select(round => others[round])], [.. known.Select(round => copies[round])],
            areCallsUnforeseen);
    }

    /// <summary>For each copy of the code, the logarithms of its rounds that are finite.</summary>
    /// <param name="cell">The cell.</param>
    /// <param name="reference">The cell it is compared with; null for its own time in beats.</param>
    public IReadOnlyList<(int Copy, double[] Logs)> LogsByCopy(int cell, int? reference)
    {
        var logs = reference is { } other ? LogRatios(cell, other) : ByRound(InLinks(cell, NetTimes(cell)), (time, _) => Math.Log(time));
        var copies = Taken.Copies(cell);
        return Taken.HasCopies(cell)
            ? [.. logs.Select((log, round) => (Copy: copies[round], Log: log)).Where(round => double.IsFinite(round.Log))
                .GroupBy(round => round.Copy, round => round.Log).OrderBy(copy => copy.Key).Select(copy => (copy.Key, copy.ToArray()))]
            : Array.FindAll(logs, double.IsFinite) is { Length: > 0 } finite ? [(0, finite)] : [];
    }

    /// <summary>Log ratio of two cells in every round, as <see cref="RoundRatios"/> has it; NaN where one took no part.</summary>
    /// <param name="cell">The cell.</param>
    /// <param name="reference">The cell it is compared with.</param>
    /// <param name="atMost">What the cell takes at most, in nanoseconds, where that is all that is known.</param>
    /// <param name="referenceAtMost">The same of the other.</param>
    public double[] LogRatios(int cell, int reference, double? atMost = null, double? referenceAtMost = null)
    {
        var ratios = RoundRatios.Logs(NetTimes(cell), NetTimes(reference), atMost, referenceAtMost);
        // Read on one processor at nearly one moment, both had the same speed, and a single beat would only add its noise. What was
        // not held to one processor is compared with a beat of its own each.
        var areApart = Record.Cells[cell].Worker != Record.Cells[reference].Worker && !Record.IsPinned;
        for (var round = 0; round < ratios.Length && IsCorrected(cell); round++)
        {
            if (areApart || !Taken.IsOnOneProcessor(cell, reference, round))
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
        => IsCorrected(cell) ? ByRound(times, (time, round) => time / Beat(cell, round)) : times;

    // There are as many of these as pairs of cells: an array of the size that is known.
    private static double[] ByRound(double[] times, Func<double, int, double> made)
    {
        var all = new double[times.Length];
        for (var round = 0; round < all.Length; round++)
        {
            all[round] = made(times[round], round);
        }

        return all;
    }

    private double[] NetTimes(int cell)
        => _net[cell] ??= State != CoreState.Shared || HasEnough(cell)
            ? WithoutLoop(cell, Chosen(cell).Of(cell))
            : [.. Enumerable.Repeat(double.NaN, Taken.Rounds)];

    /// <summary>Whether it matters for a cell who shares the core: what others do, or nobody, does not hang on it.</summary>
    public bool IsOfCore(int cell)
        => Record.Cells[cell].Loop.IsOfOneCore() && !Taken.IsUngauged(cell) && Signals[cell].Readings > 0 && !Signals[cell].IsMostlyWaiting;

    /// <summary>
    /// Whether its figures are made of readings of this state alone: where there are too few of them, of all.
    /// </summary>
    public bool IsJudgedByCore(int cell) => IsOfCore(cell) && HasEnough(cell);

    private CellTimes Chosen(int cell)
        => Taken.Times(State == CoreState.Quiet && !IsJudgedByCore(cell) ? CoreState.Any : State);

    // The identity loop of the same round, at the same speed of the machine; where it has none of this state, its middle at that speed.
    private double[] WithoutLoop(int cell, double[] times)
    {
        if (!_loops.TryGetValue((Record.Cells[cell].Worker, Record.Cells[cell].Loop), out var loop))
        {
            return ByRound(times, static (_, _) => double.NaN);
        }

        var loopTimes = Chosen(loop).Of(loop);
        var usual = State == CoreState.Any ? double.NaN : SampleStatistics.Median(
            Array.FindAll(ByRound(loopTimes, (time, round) => time / Beat(loop, round)), double.IsFinite));
        return ByRound(times, (time, round) => time - (double.IsNaN(loopTimes[round]) ? usual * Beat(cell, round) : loopTimes[round]));
    }
}
