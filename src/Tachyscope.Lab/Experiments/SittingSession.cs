using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>One sitting: fresh workers, their cells set up and warmed, then its rounds.</summary>
internal sealed class SittingSession(
    IWorkerStarter starter,
    StudyDescription study,
    SittingPlan order,
    RunPlan plan,
    Patience patience,
    Func<double> elapsedSeconds) : IAsyncDisposable
{
    private const double SecondsPerRequest = 0.15;
    private const double SecondsOfGlimpse = 0.03;
    private const int ReadingsPerTurn = 5;

    // Cells are warmed in turn, so that many of them take longer until each had its calls.
    private const int LeastWarmCapMilliseconds = 2_000;
    private const int WarmCapMillisecondsPerCell = 250;
    private const int RoundsTried = 2;
    private const double LongRoundSeconds = 1;
    private const double TurnOverheadSeconds = 50e-6;

    private readonly IWorker?[] _crew = new IWorker?[order.Workers];
    private readonly List<Reading> _readings = [];
    private readonly List<StageReading> _stageReadings = [];
    private readonly List<WarmUp> _warmUps = [];
    private readonly HashSet<int> _failed = [];
    private readonly Lock _lock = new();
    private readonly List<StageCost> _stageCosts = [];
    private double? _memoryLoadShare;
    private double _warmUpMilliseconds;
    private double _beganSeconds;
    private double _endedSeconds;
    private bool _isPinned = true;
    private bool _isCollectionHeld = plan.IsCollectionHeld;
    private int _rounds;

    /// <summary>Its number, its repeat, and whether it is held apart; the rest is filled in.</summary>
    public required SittingRecord Label { get; init; }

    public required Action<RunStage> Report { get; init; }

    /// <summary>Where each target has the study's rows and inputs.</summary>
    public required IReadOnlyList<StudyPlace> Places { get; init; }

    /// <summary>Told once, when enough rounds were read for a first look; null when nobody waits for it.</summary>
    public Action<SittingRecord>? Glimpsed { get; init; }

    /// <summary>What a worker was at when it failed; null when none has failed.</summary>
    public LostWorker? Lost { get; private set; }

    /// <summary>Names of processes that its workers left running, and that were ended.</summary>
    public List<string> LeftBehind { get; } = [];

    public List<CellFailure> Failures { get; } = [];

    /// <summary>Time one round takes, in seconds; known once rounds were read.</summary>
    public double RoundSeconds { get; private set; }

    public SittingRecord Record => Label with
    {
        Seed = order.Seed,
        Cells = order.Cells,
        WarmUps = [.. _warmUps],
        WarmUpMilliseconds = _warmUpMilliseconds,
        BeganSeconds = _beganSeconds,
        EndedSeconds = _endedSeconds,
        MemoryLoadShare = _memoryLoadShare,
        IsPinned = _isPinned && _rounds > 0,
        Rounds = _rounds,
        Readings = [.. _readings],
        StageReadings = [.. _stageReadings],
        StageCosts = [.. _stageCosts],
    };

    /// <summary>Starts its workers and has them warm their cells.</summary>
    /// <param name="atOnce">Workers that may be at it at once.</param>
    /// <param name="cancellation">Ends it early.</param>
    public async Task PrepareAsync(int atOnce, CancellationToken cancellation)
    {
        _beganSeconds = elapsedSeconds();
        Report(RunStage.Warming);
        var options = new ParallelOptions { MaxDegreeOfParallelism = Math.Max(1, atOnce), CancellationToken = cancellation };
        await Parallel.ForEachAsync(Enumerable.Range(0, order.Workers), options, async (index, token) => await WarmAsync(index, token));
        RoundSeconds = EstimatedRoundSeconds();
    }

    /// <summary>Takes the first rounds, which tell how long one takes with all that lies outside its readings, such as making inputs.</summary>
    public async Task TryRoundsAsync(CancellationToken cancellation)
    {
        var shortest = double.PositiveInfinity;
        var tried = RoundSeconds > LongRoundSeconds ? 1 : RoundsTried;
        for (var round = 0; round < tried; round++)
        {
            var before = elapsedSeconds();
            await ReadAsync(1, cancellation);
            shortest = Math.Min(shortest, elapsedSeconds() - before);
        }

        RoundSeconds = Math.Max(RoundSeconds, shortest);
    }

    /// <summary>Takes rounds until the time for them is over.</summary>
    /// <param name="least">Rounds to take in any case.</param>
    /// <param name="most">Rounds to take at most.</param>
    /// <param name="seconds">Time for them.</param>
    /// <param name="cancellation">Ends it early.</param>
    public async Task ReadAsync(int least, int most, double seconds, CancellationToken cancellation)
    {
        var end = elapsedSeconds() + seconds;
        var isFirst = true;
        while (_rounds < most && (_rounds < least || elapsedSeconds() + RoundSeconds <= end))
        {
            Report(RunStage.Reading);
            var now = Math.Min(isFirst && Glimpsed is not null ? SecondsOfGlimpse : SecondsPerRequest, end - elapsedSeconds());
            var count = Math.Clamp((int)(now / RoundSeconds), 1, most - _rounds);
            var (before, held) = (elapsedSeconds(), _rounds);
            await ReadAsync(count, cancellation);
            // The speed of the machine changes, and with it the time of a round.
            RoundSeconds = Math.Max(RoundSeconds / 2, (elapsedSeconds() - before) / (_rounds - held));
            if (isFirst)
            {
                Glimpsed?.Invoke(Record);
                isFirst = false;
            }
        }
    }

    /// <summary>Whether it was read once already, with the collector free.</summary>
    public bool IsCollectionCompared => _isCollectionHeld && !plan.IsCollectionHeld;

    /// <summary>Begins its readings anew, in the same workers and with the collector kept out of them.</summary>
    public void HoldCollections()
    {
        _isCollectionHeld = true;
        _readings.Clear();
        _stageReadings.Clear();
        _beganSeconds = elapsedSeconds();
        _rounds = 0;
    }

    /// <summary>Takes leave of its workers.</summary>
    public async Task EndAsync(CancellationToken cancellation)
    {
        foreach (var worker in _crew)
        {
            await worker!.AskAsync<Empty, Empty>(WorkerMethods.Bye, Empty.Instance, patience, cancellation);
        }
    }

    public async ValueTask DisposeAsync()
    {
        for (var worker = 0; worker < _crew.Length; worker++)
        {
            if (_crew[worker] is { } running)
            {
                _crew[worker] = null;
                await running.DisposeAsync();
                LeftBehind.AddRange(running.LeftBehind);
            }
        }
    }

    private async Task WarmAsync(int index, CancellationToken cancellation)
    {
        var (worker, _) = await starter.StartReadyAsync(patience, cancellation, order.TargetOf(index));
        _crew[index] = worker;
        CellDescription[] own = [.. order.Cells.Where(cell => cell.Worker == index)];
        var open = new OpenRequest
        {
            Study = study.Name,
            Seed = plan.Seed,
            Shuffle = order.Seed,
            Cells = [.. own.Select(Places[order.TargetOf(index)].Own)],
        };
        await AskAsync<OpenRequest, OpenReply>(index, WorkerMethods.Open, open, cancellation);
        var request = new WarmRequest
        {
            Cells = [.. Enumerable.Range(0, own.Length)],
            CapMilliseconds = Math.Max(LeastWarmCapMilliseconds, WarmCapMillisecondsPerCell * own.Length),
        };
        var reply = await AskAsync<WarmRequest, WarmReply>(index, WorkerMethods.Warm, request, cancellation);
        Note(reply, index);
        lock (_lock)
        {
            _warmUpMilliseconds = Math.Max(_warmUpMilliseconds, reply.ElapsedMilliseconds);
        }
    }

    private async Task<TReply> AskAsync<TRequest, TReply>(int index, string method, TRequest request, CancellationToken cancellation)
        where TRequest : class
        where TReply : class
    {
        try
        {
            return await _crew[index]!.AskAsync<TRequest, TReply>(method, request, patience, cancellation);
        }
        catch (WorkerException exception) when (exception.Trouble != WorkerTrouble.Refused)
        {
            Lost ??= new LostWorker(exception, AtWork(index, exception.Where));
            throw;
        }
    }

    // A twin is its variant; what is no operation of the study's is nobody's.
    private CellDescription? AtWork(int worker, WorkerWhere where)
        => where.Place == WorkerPlace.Cell
            && order.Cells[order.FirstOf(worker) + where.Index] is { Kind: CellKind.Variant or CellKind.Twin } cell ? cell : null;

    private void Note(WarmReply reply, int worker)
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
            Note(reply.Failures, first);
        }
    }

    private async Task ReadAsync(int count, CancellationToken cancellation)
    {
        var orders = Enumerable.Range(_rounds, count).Select(round => order.NextRound(round, _failed)).ToList();
        var requests = order.Workers > 1 ? orders.SelectMany(ByWorker).Select(part => (RoundOrder[])[part]) : [[.. orders]];
        foreach (var rounds in requests.Where(rounds => rounds[0].Cells.Count > 0))
        {
            var worker = order.Cells[rounds[0].Cells[0]].Worker;
            var first = order.FirstOf(worker);
            var request = new ReadRequest
            {
                Rounds = [.. rounds.Select(round => round with { Cells = [.. round.Cells.Select(cell => cell - first)] })],
                ReadingsPerTurn = ReadingsPerTurn,
                Metronome = order.Metronome(worker) - first,
                IsCollectionHeld = _isCollectionHeld,
            };
            var reply = await AskAsync<ReadRequest, ReadReply>(worker, WorkerMethods.Read, request, cancellation);
            _readings.AddRange(reply.Readings.Select(reading => reading with { Cell = reading.Cell + first }));
            _stageReadings.AddRange(reply.StageReadings.Select(reading => reading with { Cell = reading.Cell + first }));
            _isPinned &= reply.IsPinned;
            Note(reply.Failures, first);
        }

        _rounds += count;
        _endedSeconds = elapsedSeconds();
    }

    // As many turns in one request as follow each other in one worker.
    private IEnumerable<RoundOrder> ByWorker(RoundOrder round)
    {
        for (var place = 0; place < round.Cells.Count;)
        {
            var worker = order.Cells[round.Cells[place]].Worker;
            int[] own = [.. round.Cells.Skip(place).TakeWhile(cell => order.Cells[cell].Worker == worker)];
            yield return round with { FirstPlace = place, Cells = own };
            place += own.Length;
        }
    }

    private void Note(IReadOnlyList<CellError> errors, int first)
    {
        foreach (var error in errors)
        {
            _failed.Add(error.Cell + first);
            var cell = order.Cells[error.Cell + first];
            Failures.Add(new CellFailure { Variant = cell.Variant, Input = cell.Input, Target = cell.Target, Kind = CellFailureKind.Threw, Reason = error.Reason });
        }
    }

    private double EstimatedRoundSeconds()
        => Math.Max(1e-4, _warmUps
            .Where(warm => order.Cells[warm.Cell].Kind != CellKind.Metronome)
            .Sum(warm => order.ShareOfRounds(warm.Cell) * (TurnOverheadSeconds + (TurnReadings(warm) * warm.NanosecondsPerCall * warm.CallsPerReading * 1e-9))));

    private static int TurnReadings(WarmUp warm)
        => ReadRequest.ReadingsOf(warm.NanosecondsPerCall * warm.CallsPerReading, ReadingsPerTurn);
}
