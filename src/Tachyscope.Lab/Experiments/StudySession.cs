using System.Globalization;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>One study measured: its answers checked, then sitting after sitting, each in a fresh worker.</summary>
internal sealed class StudySession(
    IWorkerStarter starter,
    StudyDescription study,
    RunPlan plan,
    IReadOnlyList<int> processors,
    ExperimentSurroundings around,
    Forecast forecast,
    RunRecorder record)
{
    private const int SittingsForTight = 5;

    private readonly List<SittingRecord> _sittings = [];
    private readonly List<CellFailure> _failures = [];
    private readonly long _start = around.Clock.GetTimestamp();
    private readonly List<CellDiagnosis> _diagnoses = [];
    private string? _note;
    private double _spent;
    private double _leastSeconds;

    private double Elapsed => around.Clock.GetElapsedTime(_start).TotalSeconds;

    private TimeSpan Patience => TimeSpan.FromSeconds(plan.PatienceSeconds);

    /// <summary>Cells that take no part any more; a baseline may have failed as its twin as well.</summary>
    private HashSet<(int Variant, int Input)> Failed => [.. _failures.Select(failure => (failure.Variant, failure.Input))];

    private bool IsAnyCellLeft => Failed.Count < study.Inputs.Count * study.Variants.Count;

    public async Task MeasureAsync(CancellationToken cancellation)
    {
        var allowed = forecast.SecondsFor(study);
        // What is to be looked at afterwards gets half of the time at most.
        var schedule = new Schedule(allowed - Math.Min(allowed / 2 ?? 0, DiagnosisSession.EstimatedSeconds(study, plan)), plan.PrecisionShare is not null, study.Variants.Count * study.Inputs.Count);
        Report(RunStage.Checking, 0, schedule, 0);
        await CheckAsync(cancellation);
        var isPrecise = false;
        record.Update(Snapshot());
        while (IsAnyCellLeft && schedule.GoesOn(_sittings.Count, Elapsed, LeastSittingSeconds(allowed), isPrecise))
        {
            var before = Elapsed;
            var isHeld = await TrySitAsync(schedule, cancellation);
            _spent += Elapsed - before;
            if (!isHeld)
            {
                continue;
            }

            var soFar = Snapshot();
            isPrecise = around.IsPreciseEnough(record.Update(soFar), soFar);
        }

        NotePrecision(isPrecise);
        NoteTime(allowed);
        await DiagnoseAsync(schedule, allowed, cancellation);
        forecast.Done(study);
        record.Finish(Snapshot());
    }

    private async Task DiagnoseAsync(Schedule schedule, double? allowedSeconds, CancellationToken cancellation)
    {
        Report(RunStage.Diagnosing, 0, schedule, 1);
        var cells = AllCells().Where(cell => !Failed.Contains(cell) && _sittings.Count > 0);
        var session = new DiagnosisSession(starter, study, plan, _sittings);
        await foreach (var diagnosis in session.RunAsync(cells, () => Elapsed >= allowedSeconds, cancellation))
        {
            _diagnoses.Add(diagnosis);
        }

        if (session.Missed > 0)
        {
            var missed = $"{session.Missed} cells could not be looked at in full, as --explain asks, in the time allowed; raise --within";
            _note = _note is null ? missed : $"{_note}; {missed}";
        }
    }

    private async Task CheckAsync(CancellationToken cancellation)
    {
        try
        {
            var check = new AnswerCheck(starter, study, plan.Seed, Patience);
            _failures.AddRange(await check.RunAsync(cancellation));
        }
        catch (WorkerException exception)
        {
            // No worker to be had: this study is lost, and what was measured before it is not.
            GiveUp(exception);
        }
    }

    // Without a time to keep, a sitting takes what it takes.
    private double LeastSittingSeconds(double? allowed)
        => _sittings.Count == 0 ? 0
            : allowed is null ? _spent / _sittings.Count
            : _leastSeconds / _sittings.Count;

    private void NoteTime(double? allowed)
    {
        if (allowed is not null && _sittings.Count == 1 && _note is null)
        {
            _note = string.Create(
                CultureInfo.InvariantCulture,
                $"--within left time for one sitting, which took {Elapsed:0.0} s; an interval needs two and a tight one {SittingsForTight}, about {Math.Ceiling(SittingsForTight * _leastSeconds):0} s");
        }
    }

    private void NotePrecision(bool isPrecise)
    {
        if (plan.PrecisionShare is not null && !isPrecise && _sittings.Count > 0)
        {
            _note = "the precision asked for was not reached in the time allowed; raise --within";
        }
    }

    /// <summary>Holds one sitting; false when a worker failed and the sitting is to be held again without the cell at fault.</summary>
    private async Task<bool> TrySitAsync(Schedule schedule, CancellationToken cancellation)
    {
        try
        {
            await HoldAsync(NewSitting(schedule, byCell: false), cancellation);
            return true;
        }
        catch (WorkerException exception) when (exception.Trouble is WorkerTrouble.Died or WorkerTrouble.Hung)
        {
            // Somewhere among many cells. Once more, asking cell by cell, tells which.
        }
        catch (WorkerException exception)
        {
            GiveUp(exception);
            return false;
        }

        return await TrySitByCellAsync(schedule, cancellation);
    }

    private async Task<bool> TrySitByCellAsync(Schedule schedule, CancellationToken cancellation)
    {
        var sitting = NewSitting(schedule, byCell: true);
        try
        {
            await HoldAsync(sitting, cancellation);
            return true;
        }
        catch (WorkerException exception)
        {
            if (sitting.AtWork is not { } cell)
            {
                GiveUp(exception);
                return false;
            }

            _failures.Add(exception.ToFailure(cell.Variant, cell.Input));
            record.Update(Snapshot());
            return false;
        }
    }

    private void GiveUp(WorkerException exception)
    {
        var reason = exception.Trouble == WorkerTrouble.Refused
            ? $"could not be set up: {exception.Message}"
            : $"its worker {exception.Message} while no operation was called";
        var failed = Failed;
        _failures.AddRange(AllCells()
            .Where(cell => !failed.Contains(cell))
            .Select(cell => exception.ToFailure(cell.Variant, cell.Input, reason)));
    }

    private IEnumerable<(int Variant, int Input)> AllCells()
        => from input in Enumerable.Range(0, study.Inputs.Count)
           from variant in Enumerable.Range(0, study.Variants.Count)
           select (variant, input);

    private async Task HoldAsync(SittingSession sitting, CancellationToken cancellation)
    {
        try
        {
            await sitting.HoldAsync(cancellation);
        }
        catch (OperationCanceledException) when (sitting.Record.Rounds > 0)
        {
            Keep(sitting);
            record.Update(Snapshot());
            throw;
        }

        Keep(sitting);
    }

    private void Keep(SittingSession sitting)
    {
        _sittings.Add(sitting.Record);
        _leastSeconds += sitting.LeastSeconds;
        _failures.AddRange(sitting.Failures);
    }

    private SittingSession NewSitting(Schedule schedule, bool byCell)
    {
        var number = _sittings.Count + 1;
        var seed = unchecked((plan.Seed * 1_000_003) + (StableHash(study.Name) * 31) + number);
        return new SittingSession(starter, study, number, SittingPlan.For(study, Failed, seed, processors, plan.IsOverlappedRead), plan, byCell)
        {
            Schedule = schedule,
            StudyElapsed = () => Elapsed,
            Report = (stage, share) => Report(stage, number, schedule, share),
        };
    }

    private void Report(RunStage stage, int sitting, Schedule schedule, double shareOfSitting)
    {
        var planned = schedule.Sittings;
        var share = sitting == 0 ? 0 : (sitting - 1 + shareOfSitting) / planned;
        around.Progress?.Report(new RunProgress
        {
            Study = study.Name,
            Inputs = [.. study.Inputs.Select(input => input.Label)],
            Stage = stage,
            Sitting = sitting,
            SittingsPlanned = plan.PrecisionShare is null ? planned : 0,
            ShareDone = forecast.ShareDone(study, share),
            TimeLeft = forecast.TimeLeft(study, share),
        });
    }

    private StudyRecord Snapshot() => new() { Study = study, Sittings = [.. _sittings], Failures = [.. _failures], Diagnoses = [.. _diagnoses], Note = _note };

    // string.GetHashCode differs from process to process, and a seed must not.
    private static int StableHash(string text) => text.Aggregate(17, (hash, letter) => unchecked((hash * 31) + letter));
}
