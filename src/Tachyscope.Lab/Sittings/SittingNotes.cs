using Tachyscope.Lab.Planning;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>What the workers of one sitting told, in the sitting's own numbering of its cells.</summary>
internal sealed class SittingNotes(SittingPlan order)
{
    private readonly List<Reading> _readings = [];
    private readonly List<TurnGauge> _gauges = [];
    private readonly List<StageReading> _stageReadings = [];
    private readonly List<WarmUp> _warmUps = [];
    private readonly List<StageCost> _stageCosts = [];
    private readonly HashSet<int> _failed = [];
    private readonly Lock _lock = new();
    private double? _memoryLoadShare;
    private double _warmUpMilliseconds;
    private string? _copiesProblem;
    private double _soughtMilliseconds;
    private bool _isPinned = true;

    /// <summary>When it began and when its last readings came, in seconds since the run began.</summary>
    public double BeganSeconds { get; private set; }

    public double EndedSeconds { get; private set; }

    /// <summary>Rounds read.</summary>
    public int Rounds { get; private set; }

    /// <summary>Indices of cells that take no part any more.</summary>
    public IReadOnlySet<int> Failed => _failed;

    public List<CellFailure> Failures { get; } = [];

    public IReadOnlyList<WarmUp> WarmUps => _warmUps;

    /// <summary>The sitting as it stands; a record of its own, which later readings do not change.</summary>
    /// <param name="label">Its number, its repeat, and whether it is held apart.</param>
    public SittingRecord Record(SittingRecord label) => label with
    {
        Seed = order.Seed,
        Cells = order.Cells,
        WarmUps = [.. _warmUps],
        WarmUpMilliseconds = _warmUpMilliseconds,
        BeganSeconds = BeganSeconds,
        EndedSeconds = EndedSeconds,
        MemoryLoadShare = _memoryLoadShare,
        IsPinned = _isPinned && Rounds > 0,
        Copies = order.Copies,
        CopiesProblem = label.CopiesProblem ?? _copiesProblem,
        Rounds = Rounds,
        Readings = [.. _readings],
        Gauges = [.. _gauges],
        SoughtMilliseconds = _soughtMilliseconds,
        StageReadings = [.. _stageReadings],
        StageCosts = [.. _stageCosts],
    };

    /// <summary>Begins, or begins its readings anew; what came of warming stays.</summary>
    public void Begin(double seconds)
    {
        _readings.Clear();
        _gauges.Clear();
        _stageReadings.Clear();
        (BeganSeconds, Rounds, _soughtMilliseconds) = (seconds, 0, 0);
    }

    /// <summary>Where workers have fewer copies of the code than was asked for, rounds go through as many as all have.</summary>
    public void Add(OpenReply opened, int warmed)
    {
        lock (_lock)
        {
            order.Copies = Math.Min(order.Copies, Math.Min(opened.Copies, warmed));
            _copiesProblem ??= opened.CopiesProblem
                ?? (warmed < opened.Copies ? "its first calls take so long that warming more would take all the time" : null);
        }
    }

    public void Add(WarmReply reply, int worker)
    {
        lock (_lock)
        {
            var first = order.FirstOf(worker);
            _warmUps.AddRange(reply.Cells.Select(warm => warm with { Cell = warm.Cell + first }));
            if (reply.StageCost is { } cost)
            {
                _stageCosts.Add(cost with { Worker = worker });
            }

            _memoryLoadShare = reply.MemoryLoadShare is { } share ? Math.Max(share, _memoryLoadShare ?? 0) : _memoryLoadShare;
            _warmUpMilliseconds = Math.Max(_warmUpMilliseconds, reply.ElapsedMilliseconds);
            Add(reply.Failures, first);
        }
    }

    public void Add(CompileReply reply, int worker)
    {
        var first = order.FirstOf(worker);
        for (var index = 0; index < _warmUps.Count; index++)
        {
            var own = _warmUps[index].Cell - first;
            if (order.Cells[_warmUps[index].Cell].Worker == worker && own < reply.Codes.Count)
            {
                _warmUps[index] = _warmUps[index] with { Code = _warmUps[index].Code ?? reply.Codes[own] };
            }
        }
    }

    public void Add(ReadReply reply, int worker)
    {
        var first = order.FirstOf(worker);
        _readings.AddRange(reply.Readings.Select(reading => reading with { Cell = reading.Cell + first }));
        _gauges.AddRange(reply.Gauges);
        _soughtMilliseconds += reply.SoughtMilliseconds;
        _stageReadings.AddRange(reply.StageReadings.Select(reading => reading with { Cell = reading.Cell + first }));
        _isPinned &= reply.IsPinned;
        Add(reply.Failures, first);
    }

    public void EndRounds(int count, double seconds) => (Rounds, EndedSeconds) = (Rounds + count, seconds);

    private void Add(IReadOnlyList<CellError> errors, int first)
    {
        foreach (var error in errors.Select(error => (Index: error.Cell + first, error.Reason)))
        {
            var cell = order.Cells[error.Index];
            if (cell.Copy > 0)
            {
                // What the code does to a second copy of itself is no fault of the operation.
                LeaveOut(own => own.Copy == cell.Copy);
                _copiesProblem ??= $"in a copy of its code it {error.Reason}";
                continue;
            }

            LeaveOut(own => own with { Worker = cell.Worker, Copy = 0 } == cell);
            Failures.Add(new CellFailure
            {
                Variant = cell.Variant, Input = cell.Input, Target = cell.Target, Kind = CellFailureKind.Threw, Reason = error.Reason,
            });
        }
    }

    private void LeaveOut(Func<CellDescription, bool> isMeant)
        => _failed.UnionWith(Enumerable.Range(0, order.Cells.Count).Where(cell => isMeant(order.Cells[cell])));
}
