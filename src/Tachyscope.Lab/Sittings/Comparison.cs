using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Planning;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>One comparison of a study's variants: sets of sittings, until the schedule ends.</summary>
internal sealed class Comparison(
    IWorkerStarter starter,
    StudyDescription study,
    RunPlan plan,
    MetTargets met,
    StudyLedger ledger,
    Patience patience,
    Func<double> runSeconds)
{
    // However many processors there are: sittings held apart see more of a machine's weather.
    private const int MostAtOnce = 3;

    private readonly double _start = runSeconds();
    private double _readySeconds;
    private double _leastReadingSeconds;
    private int _sets;
    private int _held;
    private double _apartReadySeconds;
    private int _apartHeld;
    private int _setsDone;
    private int _heldInSets;
    private double _setsSeconds;
    private LostWorker? _lost;
    private string? _copiesProblem;

    /// <summary>Number of the comparison, from 1, when it is repeated.</summary>
    public required int Repeat { get; init; }

    public required Schedule Schedule { get; init; }

    /// <summary>Who holds the study's rows.</summary>
    public required StudySeats Seats { get; init; }

    /// <summary>Sizes of the machine's caches for data, in bytes, the smallest first.</summary>
    public IReadOnlyList<long> CacheSizes { get; init; } = [];

    /// <summary>The study's inputs as its guests take them.</summary>
    public required GuestInputs Inputs { get; init; }

    /// <summary>Told the stage and the number of the sitting.</summary>
    public required Action<RunStage, int> Report { get; init; }

    /// <summary>Told of every sitting held; answers how far the contrasts are known.</summary>
    public required Func<Standing> SittingDone { get; init; }

    /// <summary>Told of the first rounds of all; null when nobody waits for them.</summary>
    public Action<SittingRecord>? Glimpsed { get; init; }

    public Standing Standing { get; private set; } = new();

    /// <summary>Sittings held, those apart not counted.</summary>
    public int Held => _held;

    /// <summary>Time one set of sittings takes with the least rounds, in seconds.</summary>
    public double LeastSetSeconds => (_readySeconds / Math.Max(1, _sets)) + (_leastReadingSeconds * ReadPerSet);

    /// <summary>Time it has taken so far, in seconds.</summary>
    public double Elapsed => runSeconds() - _start;

    /// <summary>Time it still takes, by the sets held so far, in seconds; null before the first.</summary>
    public double? SecondsLeft
        => _setsDone == 0 ? null
            : Math.Max(0, (_setsSeconds / _heldInSets * (Planned - _heldInSets)) - (Elapsed - _setsSeconds));

    private int Planned => plan.PrecisionShare is null || Standing.SittingsNeeded is not { } needed
        ? Schedule.SittingsWithoutLimit
        : Math.Clamp(needed, Math.Max(_held + 1, Schedule.DefaultSittings), Schedule.Sittings);

    /// <summary>Sittings that are warmed at once.</summary>
    /// <remarks>Where operations call from several threads, each needs the processors for itself.</remarks>
    public static int AtOnce(StudyDescription study, int processors, int targets)
        => study.Variants.Any(row => row.Loop.Threads is not null) ? 1 : Math.Clamp(processors / targets, 1, MostAtOnce);

    /// <summary>How often the readings of a sitting are taken in one way or another.</summary>
    public static int ReadingsOf(RunPlan plan) => (plan.IsCollectionCompared ? 2 : 1) + (plan.IsApart ? 1 : 0);

    private bool IsPrecisionReached => plan.PrecisionShare is not null && Standing.IsPreciseEnough && _held >= Schedule.DefaultSittings;

    private int ReadPerSet => ReadingsOf(plan);

    public async Task RunAsync(CancellationToken cancellation)
    {
        while (ledger.IsAnyCellLeft && !patience.HasRunOut)
        {
            var atOnce = AtOnce(study, met.AtOnce, Seats.Count);
            Schedule.Reconsider(_held, Standing.SittingsWorth, atOnce, Elapsed);
            var cost = _sets == 0 ? null : new SetCost(_readySeconds / _sets, _leastReadingSeconds * ReadPerSet);
            var size = Schedule.NextSet(_held, Elapsed, cost, atOnce, Standing.IsPreciseEnough);
            if (size == 0)
            {
                return;
            }

            try
            {
                await HoldSetAsync(size, cancellation);
                _setsDone++;
                (_heldInSets, _setsSeconds) = (_held, Elapsed);
            }
            catch (WorkerException exception)
            {
                Answer(exception, _lost);
                _lost = null;
                Standing = SittingDone();
            }
        }
    }

    // Whoever was killed from outside gets another worker, once; what an operation does to its worker it will do again.
    private void Answer(WorkerException exception, LostWorker? lost)
    {
        if (lost?.Exception.IsKilled == true && ledger.Replace(lost))
        {
            return;
        }

        // What the code does to a second copy of itself is no fault of an operation: from here on there is one. A call that hangs does so
        // in the first as well, and is not waited for twice.
        if (lost is { Cell.Copy: > 0, Exception.Trouble: WorkerTrouble.Died } or { Exception.Where.Place: WorkerPlace.Copy })
        {
            _copiesProblem = $"in a copy of its code the worker {lost.Exception.Message}";
            return;
        }

        if (lost?.Cell is { } cell)
        {
            for (var input = 0; input < study.Inputs.Count; input++)
            {
                if (lost.IsGuest || input == cell.Input)
                {
                    ledger.Fail(lost.Exception, cell with { Input = input });
                }
            }
        }
        else if (exception.Trouble != WorkerTrouble.OutOfTime)
        {
            ledger.GiveUp(exception);
        }
    }

    /// <summary>Sittings of the first set.</summary>
    public int FirstSet => Schedule.NextSet(0, 0, null, AtOnce(study, met.AtOnce, Seats.Count), isPreciseEnough: false);

    private async Task HoldSetAsync(int size, CancellationToken cancellation)
    {
        var begin = Elapsed;
        var sittings = Enumerable.Range(0, size).Select(index => NewSitting(index, isApart: false)).ToList();
        try
        {
            await Task.WhenAll(sittings.Select(sitting => sitting.PrepareAsync(Math.Min(Seats.Count, met.AtOnce + 1), cancellation)));
            _sets++;
            _readySeconds += Elapsed - begin;
            for (var index = 0; index < size && !IsPrecisionReached; index++)
            {
                var sitting = sittings[index];
                if (Schedule.HasRoom(_held, Elapsed, Schedule.LeastRounds(sitting.RoundSeconds) * sitting.RoundSeconds))
                {
                    var apart = plan.IsApart ? size : 0;
                    await ReadAsync(sitting, ((size - index) * (plan.IsCollectionCompared ? 2 : 1)) - 1 + apart, ApartSeconds() * apart,
                        size, cancellation);
                    if (plan.IsCollectionCompared)
                    {
                        sitting.HoldCollections();
                        await ReadAsync(sitting, ((size - index - 1) * 2) + apart, ApartSeconds() * apart, size, cancellation);
                    }

                    await sitting.EndAsync(cancellation);
                }

                await EndAsync(sitting);
            }
        }
        finally
        {
            foreach (var sitting in sittings)
            {
                await EndAsync(sitting);
            }
        }

        for (var index = 0; plan.IsApart && index < size && !IsPrecisionReached
            && Schedule.HasRoom(_held, Elapsed, ApartSeconds()); index++)
        {
            await HoldApartAsync(size - 1 - index, size, cancellation);
        }
    }

    // Until one was held: as many workers as there are variants and a twin, on the processors there are.
    private double ApartSeconds()
        => _apartHeld > 0 ? _apartReadySeconds / _apartHeld
            : _readySeconds / Math.Max(1, _sets) * Math.Ceiling((Variants + 1.0) / Math.Max(1, met.AtOnce));

    private int Variants => study.Variants.Select(row => row.Variant).Distinct().Count();

    private async Task HoldApartAsync(int waiting, int size, CancellationToken cancellation)
    {
        var begin = Elapsed;
        var sitting = NewSitting(0, isApart: true);
        try
        {
            await sitting.PrepareAsync(Math.Max(1, met.AtOnce), cancellation);
            _apartHeld++;
            _apartReadySeconds += Elapsed - begin;
            _readySeconds += Elapsed - begin;
            await ReadAsync(sitting, waiting, waiting * ApartSeconds(), size, cancellation);
            await sitting.EndAsync(cancellation);
        }
        finally
        {
            await EndAsync(sitting);
        }
    }

    private async Task EndAsync(SittingSession sitting)
    {
        await sitting.DisposeAsync();
        _lost ??= sitting.Lost;
        ledger.NoteLeftBehind(sitting.LeftBehind);
        sitting.LeftBehind.Clear();
    }

    private async Task ReadAsync(SittingSession sitting, int waiting, double aheadSeconds, int size, CancellationToken cancellation)
    {
        try
        {
            await sitting.TryRoundsAsync(cancellation);
            var round = sitting.RoundSeconds;
            _leastReadingSeconds = Schedule.LeastRounds(round) * round;
            var outlook = new SittingOutlook
            {
                Held = _held,
                Waiting = waiting,
                ElapsedSeconds = Elapsed,
                AheadSeconds = aheadSeconds,
                SetSeconds = _readySeconds / _sets,
                SetSize = size * ReadPerSet,
            };
            await sitting.ReadAsync(Schedule.LeastRounds(round), Schedule.MostRounds(round), Schedule.ReadingSeconds(outlook, round),
                cancellation);
            // Once for the study: the compiler decides alike in all, or each hears it itself where that is doubted.
            if (_held == 0 && !sitting.Label.IsApart)
            {
                await sitting.HearCodeAsync(cancellation);
            }
        }
        catch (Exception exception) when (exception is OperationCanceledException or WorkerException { Trouble: WorkerTrouble.OutOfTime })
        {
            if (sitting.Record.Rounds == 0)
            {
                throw;
            }

            Keep(sitting);
            throw;
        }

        Keep(sitting);
    }

    private void Keep(SittingSession sitting)
    {
        ledger.Sittings.Add(sitting.Record with { Number = ledger.Sittings.Count + 1 });
        // The other sittings of a set were warmed with the same cells.
        var failed = ledger.Failed;
        ledger.Failures.AddRange(sitting.Failures.Where(failure => !failed.Contains((failure.Variant, failure.Input, failure.Target))));
        patience.IsAnythingHeld = true;
        _held += sitting.Label.IsApart || sitting.IsCollectionCompared ? 0 : 1;
        Standing = SittingDone();
    }

    private SittingSession NewSitting(int index, bool isApart)
    {
        var number = ledger.Sittings.Count + 1 + index;
        var wish = new SittingWish
        {
            Seed = unchecked((plan.Seed * 1_000_003) + (StableHash(study.Name) * 31) + number),
            Targets = Seats.Targets.Count,
            LoopOn = Seats.Loop,
            GuestOf = Seats.GuestOf,
            Excluded = ledger.Out,
            Decided = Standing.Decided,
            Processors = met.Processors,
            IsOverlappedRead = plan.IsOverlappedRead,
            IsCalledRead = plan.IsCalledRead,
            EmptiedBytes = plan.IsColdRead ? CacheSizes : [],
            IsApart = isApart,
            Copies = isApart ? 1 : Copies(),
        };
        return new SittingSession(starter, study, SittingPlan.For(study, wish), Seats, plan, met, patience, runSeconds)
        {
            Label = new SittingRecord
            {
                Number = number, Repeat = Repeat, CopiesProblem = _copiesProblem, IsApart = isApart, Seed = wish.Seed,
                Cells = [], WarmUps = [], WarmUpMilliseconds = 0, IsPinned = false, Rounds = 0, Readings = [],
            },
            Glimpsed = number == 1 ? Glimpsed : null,
            Report = stage => Report(stage, number),
            Inputs = Inputs,
        };
    }

    // A row of threads is woken and pinned for each cell.
    private int Copies() => _copiesProblem is not null || study.Variants.Any(row => row.Loop.Threads is not null) ? 1 : plan.Copies;

    // string.GetHashCode differs from process to process, and a seed must not.
    private static int StableHash(string text) => text.Aggregate(17, (hash, letter) => unchecked((hash * 31) + letter));
}
