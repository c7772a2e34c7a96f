using Tachyscope.Analysis.Machines;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>One sitting's readings put in order: for every cell and round, the median of the turn as it was read.</summary>
internal sealed class SittingReadings
{
    private const int NoProcessor = -1;

    // By so much the gauge reads more on a quiet core where the compiler laid it out otherwise.
    private const double MostByLayout = 1.1;

    private readonly CellTimes[] _times;
    private readonly double[][] _beats;
    private readonly int[][] _places;
    private readonly int[][] _copies;
    private readonly int[][] _processors;
    private readonly double[][] _sharedShares;
    private readonly int _mostLowGauge;
    private HashSet<int> _quietTooShort = [];
    private readonly int[] _ofCopies;
    private readonly bool[] _hasCopies;
    private readonly List<int>[] _ofCell;
    private readonly List<double> _allBeats = [];
    private readonly List<double> _quietBeats = [];
    private readonly List<int> _roundsOfBeats = [];
    private readonly Dictionary<(CellKind, int, int, LoopWay, int), int> _found = [];
    private readonly Lazy<double[]> _roundBeats;

    public SittingReadings(SittingRecord sitting)
    {
        Record = sitting;
        var cells = sitting.Cells.Count;
        Rounds = sitting.Readings.Count == 0 ? 0 : sitting.Readings.Max(reading => reading.Round) + 1;
        _times = [.. Enum.GetValues<CoreState>().Select(_ => new CellTimes(cells, Rounds))];
        _beats = Grid(cells, double.NaN);
        _places = Grid(cells, 0);
        _copies = Grid(cells, 0);
        _processors = Grid(cells, NoProcessor);
        _sharedShares = Grid(cells, double.NaN);
        _ofCell = [.. sitting.Cells.Select(_ => new List<int>())];
        var keeping = sitting.WarmUps.Where(warm => warm.WaitsPerCall == 0).Select(warm => warm.Cell).ToHashSet();
        Signals = [.. sitting.Cells.Select((cell, index) => new SignalCount
        {
            IsOfPrograms = cell.Loop.Path == CallPath.Started, KeepsProcessor = keeping.Contains(index) && cell.Loop.IsOfOneCore(),
        })];
        (_ofCopies, _hasCopies) = (new int[cells], new bool[cells]);
        for (var cell = 0; cell < cells; cell++)
        {
            // The copies of an operation are one cell, whose rounds call one copy or another.
            var found = sitting.Cells[cell];
            var key = (found.Kind, found.Variant, found.Input, LoopWay.Of(found.Loop), found.Target);
            _found.TryAdd(key, cell);
            _ofCopies[cell] = found.Kind is CellKind.Variant or CellKind.Twin ? _found[key] : cell;
            _hasCopies[_ofCopies[cell]] |= found.Copy != sitting.Cells[_ofCopies[cell]].Copy;
        }

        _mostLowGauge = (int)(MostByLayout * sitting.LowGauges.Where(low => low > 0).DefaultIfEmpty(0).Min());
        IsGauged = sitting.Gauges.Count > 0 && sitting.LowGauges.Any(low => low > 0);
        Fill(sitting);
        // Workers of languages that have no metronome are told of as they are.
        MedianBeat = _allBeats.Count == 0 ? 1 : SampleStatistics.Median([.. _allBeats]);
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

    /// <summary>The same at the turns beside which the core was ours alone from beginning to end.</summary>
    public IEnumerable<double> QuietBeats => _quietBeats;

    /// <summary>Its median in every round, in nanoseconds.</summary>
    public IReadOnlyList<double> RoundBeats => _roundBeats.Value;

    /// <summary>Readings of the metronomes during which other work took the processor.</summary>
    public int InterruptedBeats { get; private set; }

    /// <summary>Cells without a single reading.</summary>
    public IEnumerable<CellDescription> Silent
        => Enumerable.Range(0, Record.Cells.Count).Where(cell => _ofCopies[cell] == cell && _ofCell[cell].Count == 0)
            .Select(cell => Record.Cells[cell])
            // A language too slow for a metronome has none.
            .Where(cell => cell is not { Kind: CellKind.Metronome, Guest: not null });

    /// <summary>The readings of a cell, in the order they were taken.</summary>
    public IEnumerable<Reading> Of(int cell) => _ofCell[cell].Select(index => Record.Readings[index]);

    /// <summary>Index of a cell; null when the sitting has no such cell.</summary>
    public int? Find(CellKind kind, int variant, int input, LoopWay way, int target)
        => _found.TryGetValue((kind, variant, input, way, target), out var cell) ? cell : null;

    /// <summary>Whether the gauge was read beside its readings, and what it reads on a quiet core is known.</summary>
    public bool IsGauged { get; }

    /// <summary>Whether it belongs to a guest whose language has no gauge, so that nobody knows who shared the core.</summary>
    public bool IsUngauged(int cell) => Record.Cells[cell].Guest is not null && LowGauge(cell) == 0;

    /// <summary>
    /// Cycles of a virtual call after each turn that tells of it, and whether the core was ours alone, throughout, or shared at the end.
    /// </summary>
    public IReadOnlyList<(double Cycles, bool IsQuiet)> CallMoments { get; private set; } = [];

    /// <summary>Whether calls are not foreseen while the core is ours alone.</summary>
    public bool AreCallsUnforeseen { get; private set; }

    /// <summary>Readings of operations and loops beside which the gauge was read, and how many of them were beside a quiet core.</summary>
    public (int All, int Quiet) Gauged { get; private set; }

    /// <summary>Times in every round, of the readings of one state.</summary>
    public CellTimes Times(CoreState state) => _times[(int)state];

    /// <summary>Whether more than one copy of its code was called.</summary>
    public bool HasCopies(int cell) => _hasCopies[cell];

    /// <summary>Which copy of the code each round called.</summary>
    public IReadOnlyList<int> Copies(int cell) => _copies[cell];

    /// <summary>Whether two cells were read on one processor in a round, or nothing tells that they were not.</summary>
    public bool IsOnOneProcessor(int cell, int other, int round) => _processors[cell][round] == _processors[other][round];

    /// <summary>
    /// Time of one link of the metronome at the cell's turn in every round, in nanoseconds; NaN for readings many times as long.
    /// </summary>
    public double[] Beats(int cell) => _beats[cell];

    /// <summary>
    /// Share of the gauges of the cell's turn that were not those of a quiet core, in every round; NaN where none was read.
    /// </summary>
    public IReadOnlyList<double> SharedShares(int cell) => _sharedShares[cell];

    /// <summary>Place of the cell's turn in every round.</summary>
    public IReadOnlyList<int> Places(int cell) => _places[cell];

    private T[][] Grid<T>(int cells, T value)
    {
        var grid = new T[cells][];
        for (var cell = 0; cell < cells; cell++)
        {
            grid[cell] = new T[Rounds];
            Array.Fill(grid[cell], value);
        }

        return grid;
    }

    // A worker that met no quiet core does not know what its gauge reads there, and takes a shared one for quiet; another target's may.
    private int LowGauge(int cell) => Record.Cells[cell].Guest is { } guest
        ? Record.GuestLowGauges.ElementAtOrDefault(guest)
        : Math.Min(Record.LowGauges.ElementAtOrDefault(Record.Cells[cell].Target), _mostLowGauge);

    private double[] FoundRoundBeats()
    {
        var beats = _roundsOfBeats.Zip(_allBeats).ToLookup(pair => pair.First, pair => pair.Second);
        return [.. Enumerable.Range(0, Rounds).Select(round => SampleStatistics.Median([.. beats[round]]))];
    }

    private void Fill(SittingRecord sitting)
    {
        var beat = double.NaN;
        var (turn, turns) = (new TurnReadings(), new List<(Reading Last, double Beat, TurnReadings Taken, TurnGauge? Gauge)>());
        var gauges = IsGauged ? sitting.Gauges.ToLookup(gauge => (gauge.Round, gauge.Place)) : null;
        var readings = ReadingSpan.Of(sitting.Readings);
        for (var i = 0; i < readings.Length; i++)
        {
            ref readonly var reading = ref readings[i];
            var cell = _ofCopies[reading.Cell];
            _ofCell[cell].Add(i);
            if (sitting.Cells[cell].Kind == CellKind.Metronome)
            {
                beat = reading.NanosecondsPerCall;
                _allBeats.Add(beat);
                _roundsOfBeats.Add(reading.Round);
                InterruptedBeats += SignalCount.IsInterrupted(reading) ? 1 : 0;
                continue;
            }

            turn.Add(reading, Signals[cell].NanosecondsOf(reading));
            Signals[cell].Add(reading);
            IsCollectionHeld |= reading.IsCollectionHeld is not null;
            var isLastOfTurn = i + 1 == readings.Length || readings[i + 1].Place != reading.Place || readings[i + 1].Round != reading.Round;
            if (isLastOfTurn)
            {
                turns.Add((reading, beat, turn, gauges?[(reading.Round, reading.Place)].FirstOrDefault()));
                turn = new TurnReadings();
            }
        }

        _quietTooShort = CoreHold.TooShort(turns.Where(taken => taken.Gauge is not null && !IsLong(taken.Last))
            .Select(taken => (taken.Gauge!, MostOfQuietCore(taken.Last.Cell))));
        CallMoments = IsGauged ? [.. Calls()] : [];
        AreCallsUnforeseen = CallFindings.Of(CallMoments).AreUnforeseenWhenQuiet;
        foreach (var taken in turns)
        {
            EndTurn(taken.Last, taken.Beat, taken.Taken, taken.Gauge);
        }
    }

    // What lies within so long a reading is told by no gauge beside it, but by the share of those that were quiet.
    private static bool IsLong(in Reading reading) => reading.ElapsedNanoseconds > ReadRequest.LongReadingNanoseconds;

    private IEnumerable<(double Cycles, bool IsQuiet)> Calls()
    {
        var most = (int)(TurnGauge.QuietReach * _mostLowGauge);
        return from turn in Record.Gauges
               where turn.CallGauge > 0 && turn.Gauges.Count > 0
               let isShared = turn.Gauges[^1] > most || _quietTooShort.Contains(turn.Processor)
               // Who shares it from moment to moment is not gone.
               where isShared || turn.Gauges.All(gauge => gauge <= most)
               select (turn.CallCycles, !isShared);
    }

    private int MostOfQuietCore(int cell) => (int)(TurnGauge.QuietReach * LowGauge(cell));

    private void EndTurn(in Reading last, double beat, TurnReadings turn, TurnGauge? gauge)
    {
        var (cell, round) = (_ofCopies[last.Cell], last.Round);
        _places[cell][round] = last.Place;
        _copies[cell][round] = Record.Cells[last.Cell].Copy;
        _processors[cell][round] = gauge?.Processor ?? NoProcessor;
        _beats[cell][round] = IsLong(last) ? double.NaN : beat;
        _times[(int)CoreState.Any].Set(cell, round, turn.Times, turn.Pauses);
        if (gauge is null)
        {
            return;
        }

        var most = MostOfQuietCore(cell);
        // Where nobody foresees a call on a core of its own, one that is foreseen tells of somebody who takes hardly anything else from it.
        var isLightlyShared = AreCallsUnforeseen && CallFindings.IsForeseen(gauge.CallCycles) && gauge.Gauges[^1] <= most;
        most = isLightlyShared || (!IsLong(last) && _quietTooShort.Contains(gauge.Processor)) ? 0 : most;
        _sharedShares[cell][round] = (double)gauge.Gauges.Count(read => read > most) / Math.Max(1, gauge.Gauges.Count);
        if (_sharedShares[cell][round] == 0 && double.IsFinite(beat))
        {
            _quietBeats.Add(beat);
        }

        foreach (var state in (ReadOnlySpan<CoreState>)[CoreState.Quiet, CoreState.Shared])
        {
            var own = turn.Beside(gauge, state, most);
            _times[(int)state].Set(cell, round, own.Times, own.Pauses);
            Gauged = state == CoreState.Quiet ? (Gauged.All + turn.Times.Count, Gauged.Quiet + own.Times.Count) : Gauged;
        }
    }
}
