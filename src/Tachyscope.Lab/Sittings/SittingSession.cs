using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Planning;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>One sitting: its crew sets up and warms its cells, then rounds are fed to it as long as there is time.</summary>
internal sealed class SittingSession(
    IWorkerStarter starter,
    StudyDescription study,
    SittingPlan order,
    StudySeats seats,
    RunPlan plan,
    MetTargets met,
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

    private readonly SittingCrew _crew = new(starter, order, seats, patience);
    private readonly SittingNotes _notes = new(order);
    private bool _isCollectionHeld = plan.IsCollectionHeld;

    /// <summary>Its number, its repeat, and whether it is held apart; the rest is filled in.</summary>
    public required SittingRecord Label { get; init; }

    public required Action<RunStage> Report { get; init; }

    /// <summary>The study's inputs as its guests take them.</summary>
    public required GuestInputs Inputs { get; init; }

    /// <summary>Told once, when enough rounds were read for a first look; null when nobody waits for it.</summary>
    public Action<SittingRecord>? Glimpsed { get; init; }

    /// <summary>What a worker was at when it failed; null when none has failed.</summary>
    public LostWorker? Lost => _crew.Lost;

    /// <summary>Names of processes that its workers left running, and that were ended.</summary>
    public List<string> LeftBehind => _crew.LeftBehind;

    public List<CellFailure> Failures => _notes.Failures;

    /// <summary>Time one round takes, in seconds; known once rounds were read.</summary>
    public double RoundSeconds { get; private set; }

    public SittingRecord Record => _notes.Record(Label with
    {
        LowGauges = plan.IsQuietSought ? [.. Enumerable.Range(0, met.Count).Select(met.Quiet.LowOf)] : [],
        GuestLowGauges = plan.IsQuietSought ? [.. Enumerable.Range(met.Count, met.Guests.Count).Select(met.Quiet.LowOf)] : [],
    });

    /// <summary>Whether it was read once already, with the collector free.</summary>
    public bool IsCollectionCompared => _isCollectionHeld && !plan.IsCollectionHeld;

    /// <summary>Starts its workers and has them warm their cells.</summary>
    /// <param name="atOnce">Workers that may be at it at once.</param>
    /// <param name="cancellation">Ends it early.</param>
    public async Task PrepareAsync(int atOnce, CancellationToken cancellation)
    {
        _notes.Begin(elapsedSeconds());
        Report(RunStage.Warming);
        var options = new ParallelOptions { MaxDegreeOfParallelism = Math.Max(1, atOnce), CancellationToken = cancellation };
        await Parallel.ForEachAsync(Enumerable.Range(0, order.Workers), options, async (index, token) => await WarmAsync(index, token));
        RoundSeconds = EstimatedRoundSeconds();
    }

    /// <summary>
    /// Takes the first rounds, which tell how long one takes with all that lies outside its readings, such as making inputs.
    /// </summary>
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
        while (_notes.Rounds < most && (_notes.Rounds < least || elapsedSeconds() + RoundSeconds <= end))
        {
            Report(RunStage.Reading);
            var now = Math.Min(isFirst && Glimpsed is not null ? SecondsOfGlimpse : SecondsPerRequest, end - elapsedSeconds());
            var count = Math.Clamp((int)(now / RoundSeconds), 1, most - _notes.Rounds);
            var (before, held) = (elapsedSeconds(), _notes.Rounds);
            await ReadAsync(count, cancellation);
            // The speed of the machine changes, and with it the time of a round.
            RoundSeconds = Math.Max(RoundSeconds / 2, (elapsedSeconds() - before) / (_notes.Rounds - held));
            if (isFirst)
            {
                Glimpsed?.Invoke(Record);
                isFirst = false;
            }
        }
    }

    /// <summary>Has its workers tell what became of each cell's loop, once all was read.</summary>
    public async Task HearCodeAsync(CancellationToken cancellation)
    {
        for (var worker = 0; worker < order.Workers; worker++)
        {
            if (order.CellOf(worker).Guest is null && await _crew.HearAsync(worker, cancellation) is { } reply)
            {
                _notes.Add(reply, worker);
            }
        }
    }

    /// <summary>Begins its readings anew, in the same workers and with the collector kept out of them.</summary>
    public void HoldCollections()
    {
        _isCollectionHeld = true;
        _notes.Begin(elapsedSeconds());
    }

    /// <summary>Takes leave of its workers.</summary>
    public Task EndAsync(CancellationToken cancellation) => _crew.TakeLeaveAsync(cancellation);

    public ValueTask DisposeAsync() => _crew.DisposeAsync();

    private async Task WarmAsync(int index, CancellationToken cancellation)
    {
        await _crew.StartAsync(index, cancellation);
        CellDescription[] own = [.. order.Cells.Where(cell => cell.Worker == index)];
        if (order.CellOf(index).Guest is not null)
        {
            var row = own.First(cell => cell.Kind == CellKind.Variant).Variant;
            if (!seats.IsOurs(row))
            {
                await _crew.AskAsync<TakeRequest,
                    Empty>(index, WorkerMethods.Take, new TakeRequest { Inputs = Inputs.Of(row) }, cancellation);
            }
        }

        var open = new OpenRequest
        {
            Study = study.Name,
            Seed = plan.Seed,
            Shuffle = order.Seed,
            Cells = [.. own.Select(seats.Own)],
        };
        var opened = await _crew.AskAsync<OpenRequest, OpenReply>(index, WorkerMethods.Open, open, cancellation);
        var request = new WarmRequest
        {
            Cells = [.. Enumerable.Range(0, own.Length)],
            CapMilliseconds = Math.Max(LeastWarmCapMilliseconds, WarmCapMillisecondsPerCell * own.Length),
            IsCodeHeard = plan.AreSpeedsSought,
        };
        var reply = await _crew.AskAsync<WarmRequest, WarmReply>(index, WorkerMethods.Warm, request, cancellation);
        if (plan.IsQuietSought)
        {
            met.Quiet.Note(seats.Of(order.CellOf(index)), reply.LowGauge, reply.IsLowGaugeSharp);
        }

        _notes.Add(opened, reply.Copies);
        _notes.Add(reply, index);
    }

    private async Task ReadAsync(int count, CancellationToken cancellation)
    {
        var orders = Enumerable.Range(_notes.Rounds, count).Select(round => order.NextRound(round, _notes.Failed)).ToList();
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
                Processors = met.Processors,
                QuietGauge = plan.IsQuietSought ? met.Quiet.MostOf(seats.Of(order.CellOf(worker))) : 0,
                IsCollectionHeld = _isCollectionHeld,
            };
            var reply = await _crew.AskAsync<ReadRequest, ReadReply>(worker, WorkerMethods.Read, request, cancellation);
            _notes.Add(reply, worker);
        }

        _notes.EndRounds(count, elapsedSeconds());
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

    private double EstimatedRoundSeconds()
        => Math.Max(1e-4, _notes.WarmUps
            .Where(warm => order.Cells[warm.Cell].Kind != CellKind.Metronome)
            .Sum(warm => order.ShareOfRounds(warm.Cell)
                * (TurnOverheadSeconds + (TurnReadings(warm) * warm.NanosecondsPerCall * warm.CallsPerReading * 1e-9))));

    private static int TurnReadings(WarmUp warm)
        => ReadRequest.ReadingsOf(warm.NanosecondsPerCall * warm.CallsPerReading, ReadingsPerTurn);
}
