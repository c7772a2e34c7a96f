using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>One sitting: a fresh worker, its cells set up and warmed, then its rounds.</summary>
internal sealed class SittingSession(
    IWorkerStarter starter, StudyDescription study, int number, SittingPlan order, RunPlan plan, bool byCell)
{
    private const double SecondsPerRequest = 0.15;
    private const int ReadingsPerTurn = 5;

    // Cells are warmed in turn, so that many of them take longer until each had its calls.
    private const int LeastWarmCapMilliseconds = 2_000;
    private const int WarmCapMillisecondsPerCell = 250;
    private const int RoundsTried = 2;
    private const double LongRoundSeconds = 1;

    // Its first call, one more to see that it is slow, and one to spare.
    private const int CallsOfSlowCell = 3;
    private const double TurnOverheadSeconds = 50e-6;

    private readonly List<Reading> _readings = [];
    private readonly List<StageReading> _stageReadings = [];
    private readonly List<WarmUp> _warmUps = [];
    private readonly HashSet<int> _failed = [];
    private StageCost? _stageCost;
    private double _warmUpMilliseconds;
    private bool _isPinned = true;
    private int _rounds;

    public required Schedule Schedule { get; init; }

    public required Func<double> StudyElapsed { get; init; }

    public required Action<RunStage, double> Report { get; init; }

    /// <summary>The operation that was being called when a worker failed; known only when asked cell by cell.</summary>
    public CellDescription? AtWork { get; private set; }

    public List<CellFailure> Failures { get; } = [];

    /// <summary>Time it would have taken with no more than the least rounds, in seconds.</summary>
    public double LeastSeconds { get; private set; }

    public SittingRecord Record => new()
    {
        Number = number,
        Seed = order.Seed,
        Cells = order.Cells,
        WarmUps = [.. _warmUps],
        WarmUpMilliseconds = _warmUpMilliseconds,
        IsPinned = _isPinned && _rounds > 0,
        Rounds = _rounds,
        Readings = [.. _readings],
        StageReadings = [.. _stageReadings],
        StageCost = _stageCost,
    };

    private TimeSpan Patience => TimeSpan.FromSeconds(plan.PatienceSeconds);

    public async Task HoldAsync(CancellationToken cancellation)
    {
        var begin = StudyElapsed();
        Report(RunStage.Warming, 0);
        var (worker, _) = await starter.StartReadyAsync(cancellation);
        await using var disposal = worker;
        var open = new OpenRequest { Study = study.Name, Seed = plan.Seed, Cells = order.Cells };
        await worker.AskAsync<OpenRequest, OpenReply>(WorkerMethods.Open, open, Patience * (1 + study.Inputs.Count), cancellation);
        await WarmAsync(worker, cancellation);
        var overhead = StudyElapsed() - begin;
        var roundSeconds = await TryRoundsAsync(worker, cancellation);
        LeastSeconds = overhead + (Schedule.LeastRounds(roundSeconds) * roundSeconds);
        var most = Schedule.MostRounds(roundSeconds);
        var end = StudyElapsed() + Schedule.ReadingSeconds(number, roundSeconds, StudyElapsed(), overhead);
        while (_rounds < most && (_rounds < Schedule.LeastRounds(roundSeconds) || StudyElapsed() + roundSeconds <= end))
        {
            Report(RunStage.Reading, 0.5 + (0.5 * _rounds / most));
            var seconds = Math.Min(SecondsPerRequest, end - StudyElapsed());
            var count = Math.Clamp((int)(seconds / roundSeconds), 1, most - _rounds);
            var (before, held) = (StudyElapsed(), _rounds);
            await ReadAsync(worker, count, roundSeconds, cancellation);
            // The speed of the machine changes, and with it the time of a round.
            roundSeconds = Math.Max(roundSeconds / 2, (StudyElapsed() - before) / (_rounds - held));
        }

        await worker.AskAsync<Empty, Empty>(WorkerMethods.Bye, Empty.Instance, Patience, cancellation);
    }

    /// <summary>Takes the first rounds one by one, and tells how long one takes with all that lies outside its readings, such as making inputs.</summary>
    private async Task<double> TryRoundsAsync(IWorker worker, CancellationToken cancellation)
    {
        var estimate = RoundSeconds();
        var shortest = double.PositiveInfinity;
        var tried = estimate > LongRoundSeconds ? 1 : RoundsTried;
        for (var round = 0; round < tried; round++)
        {
            var before = StudyElapsed();
            await ReadAsync(worker, 1, estimate, cancellation);
            shortest = Math.Min(shortest, StudyElapsed() - before);
        }

        return Math.Max(estimate, shortest);
    }

    private async Task WarmAsync(IWorker worker, CancellationToken cancellation)
    {
        foreach (var cells in Parts([.. Enumerable.Range(0, order.Cells.Count)]))
        {
            AtWork = Single(cells);
            var request = new WarmRequest { Cells = cells, CapMilliseconds = Math.Max(LeastWarmCapMilliseconds, WarmCapMillisecondsPerCell * cells.Length) };
            // Every call may be slow enough to need its patience for itself.
            var patience = (Patience * CallsOfSlowCell * cells.Length) + TimeSpan.FromMilliseconds(request.CapMilliseconds);
            var reply = await worker.AskAsync<WarmRequest, WarmReply>(WorkerMethods.Warm, request, patience, cancellation);
            _warmUps.AddRange(reply.Cells);
            _warmUpMilliseconds += reply.ElapsedMilliseconds;
            _stageCost ??= reply.StageCost;
            Note(reply.Failures);
        }

        AtWork = null;
    }

    private async Task ReadAsync(IWorker worker, int count, double roundSeconds, CancellationToken cancellation)
    {
        var orders = Enumerable.Range(_rounds, count).Select(round => order.NextRound(round, _failed)).ToList();
        var requests = byCell ? orders.SelectMany(ByCell).Select(part => (RoundOrder[])[part]) : [[.. orders]];
        var patience = Patience + (TimeSpan.FromSeconds(roundSeconds) * count * 10);
        foreach (var rounds in requests)
        {
            AtWork = rounds.Length == 1 ? Single(rounds[0].Cells) : null;
            var request = new ReadRequest
            {
                Rounds = rounds, ReadingsPerTurn = ReadingsPerTurn, Metronome = order.Metronome, IsCollectionHeld = plan.IsCollectionHeld,
            };
            var reply = await worker.AskAsync<ReadRequest, ReadReply>(WorkerMethods.Read, request, patience, cancellation);
            _readings.AddRange(reply.Readings);
            _stageReadings.AddRange(reply.StageReadings);
            _isPinned &= reply.IsPinned;
            Note(reply.Failures);
        }

        AtWork = null;
        _rounds += count;
    }

    private static IEnumerable<RoundOrder> ByCell(RoundOrder round)
        => round.Cells.Select((cell, place) => round with { FirstPlace = place, Cells = [cell] });

    private IEnumerable<int[]> Parts(int[] cells) => byCell ? cells.Select(cell => (int[])[cell]) : [cells];

    private CellDescription? Single(IReadOnlyList<int> cells)
        => byCell && cells.Count == 1 && order.Cells[cells[0]].Kind is CellKind.Variant or CellKind.Twin ? order.Cells[cells[0]] : null;

    private void Note(IReadOnlyList<CellError> errors)
    {
        foreach (var error in errors)
        {
            _failed.Add(error.Cell);
            var cell = order.Cells[error.Cell];
            Failures.Add(new CellFailure { Variant = cell.Variant, Input = cell.Input, Kind = CellFailureKind.Threw, Reason = error.Reason });
        }
    }

    private double RoundSeconds()
        => Math.Max(1e-4, _warmUps
            .Where(warm => order.Cells[warm.Cell].Kind != CellKind.Metronome)
            .Sum(warm => TurnOverheadSeconds + (TurnReadings(warm) * warm.NanosecondsPerCall * warm.CallsPerReading * 1e-9)));

    private static int TurnReadings(WarmUp warm)
        => ReadRequest.ReadingsOf(warm.NanosecondsPerCall * warm.CallsPerReading, ReadingsPerTurn);
}
