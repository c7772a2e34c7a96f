using Tachyscope.Lab.Answers;
using Tachyscope.Lab.Diagnoses;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Planning;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>One study measured: its answers checked, its variants compared as often as asked, single cells looked at.</summary>
internal sealed class StudySession(
    IWorkerStarter starter,
    StudyDescription study,
    RunPlan plan,
    MetTargets met,
    Patience patience,
    ExperimentSurroundings around,
    Forecast forecast,
    RunRecorder record) : IDisposable
{
    private const int SittingsForTight = 5;

    private readonly StudyLedger _ledger = new(study, met.Count, around.IsCellMeant);
    private readonly StudySeats _seats = new(study, met);
    private readonly GuestInputs _inputs = new(study);
    private readonly double _start = record.Elapsed;
    private readonly List<Comparison> _comparisons = [];
    private double _comparisonSeconds;

    private double Elapsed => record.Elapsed - _start;

    /// <param name="checking">A worker to compare answers in; disposed when that is done.</param>
    /// <param name="cancellation">Ends it early.</param>
    public async Task MeasureAsync(IWorker? checking, CancellationToken cancellation)
    {
        patience.IsAnythingHeld = false;
        var allowed = forecast.SecondsFor(study);
        // What is to be looked at afterwards gets half of the time at most.
        var forSittings = allowed - Math.Min(allowed / 2 ?? 0, DiagnosisSession.EstimatedSeconds(study, plan, met.Count));
        Report(RunStage.Checking, 0, null);
        await using var ahead = new StartedAhead(starter);
        var first = NewComparison(1, forSittings);
        if (!plan.IsApart)
        {
            ahead.StartSome(first.FirstSet);
        }

        await CheckAsync(checking, cancellation);
        record.Update(_ledger.Snapshot());
        for (var repeat = 1; repeat <= plan.Repeats; repeat++)
        {
            var comparison = NewComparison(repeat, (forSittings - Elapsed) / (plan.Repeats - repeat + 1), ahead);
            _comparisons.Add(comparison);
            await comparison.RunAsync(cancellation);
            _comparisonSeconds = comparison.Elapsed;
            Note(comparison, allowed);
        }

        await DiagnoseAsync(allowed, cancellation);
        forecast.Done(study);
        record.Finish(_ledger.Snapshot());
    }

    public void Dispose() => _inputs.Dispose();

    private Comparison NewComparison(int repeat, double? allowedSeconds, IWorkerStarter? from = null)
        => new(from ?? starter, study, plan, met, _ledger, patience, () => record.Elapsed)
        {
            Seats = _seats,
            Inputs = _inputs,
            CacheSizes = plan.IsColdRead ? Surveyor.CacheSizes() : [],
            Repeat = repeat,
            Schedule = new Schedule(allowedSeconds, plan.PrecisionShare is not null, study.Variants.Count * study.Inputs.Count * Comparison
                .ReadingsOf(plan), _seats.Count, plan.AreSpeedsSought),
            Report = (stage, sitting)
                => Report(stage, sitting, _comparisons.LastOrDefault()?.SecondsLeft + ((plan.Repeats - repeat) * _comparisonSeconds)),
            Glimpsed = around.SittingDone is null ? null : sitting =>
            {
                var soFar = _ledger.Snapshot();
                var begun = soFar with { Sittings = [.. soFar.Sittings, sitting] };
                around.SittingDone(record.With(begun), begun);
            },
            SittingDone = () =>
            {
                var soFar = _ledger.Snapshot();
                var run = record.Update(soFar);
                around.SittingDone?.Invoke(run, soFar);
                return around.Judge(run, soFar);
            },
        };

    private async Task CheckGuestsAsync(CancellationToken cancellation)
    {
        if (_seats.GuestRows.Any())
        {
            await using var check = new GuestCheck(starter, study, _seats, _inputs, plan.Seed, patience);
            _ledger.Failures.AddRange(await check.RunAsync(_ledger.Out, cancellation));
        }
    }

    private async Task DiagnoseAsync(double? allowedSeconds, CancellationToken cancellation)
    {
        Report(RunStage.Diagnosing, 0, 0);
        // A cell that is looked at begins anew, in a fresh process.
        patience.IsAnythingHeld = false;
        var left = _ledger.Out;
        var cells = _ledger.Cells
            .Where(cell => !left.Contains(cell) && _ledger.Sittings.Count > 0 && study.Variants[cell.Variant].Guest is null);
        var session = new DiagnosisSession(starter, study, plan, _ledger.Sittings, _seats.Targets, patience);
        await foreach (var diagnosis in session.RunAsync(cells, () => Elapsed >= allowedSeconds || patience.HasRunOut, cancellation))
        {
            _ledger.Diagnoses.Add(diagnosis);
        }

        if (session.CountersAbsence is { } absence)
        {
            _ledger.Note($"the processor's counters could not be read: {absence}");
        }

        if (session.Missed > 0)
        {
            _ledger.Note($"{session.Missed} cells could not be looked at in full, as --explain asks, in the time allowed; raise --within");
        }
    }

    private async Task CheckAsync(IWorker? checking, CancellationToken cancellation)
    {
        try
        {
            _ledger.Failures.AddRange(met.Missing(study));
            _ledger.Failures.AddRange(_seats.Unbuilt());
            var outside = _ledger.Cells.Where(cell => study.Variants[cell.Variant].Guest is not null).ToHashSet();
            var answers = new AnswersAcross(study, [.. met.Targets.Select(target => target.Target.Name)]);
            for (var target = 0; target < met.Count; target++)
            {
                // The worker that was met is one of the first target's.
                var (ready, isThere) = (target == 0 ? checking : null, met.Has(study.Name, target));
                if (isThere)
                {
                    var check = new AnswerCheck(starter, study, _seats.Targets[target], plan.Seed, patience, target)
                    {
                        Heard = answer =>
                        {
                            answers.Hear(answer);
                            _ledger.Answers.Add(AnswersAcross.Kept(answer, around.AreAnswersKeptWhole));
                        },
                    };
                    var failures = await check.RunAsync(ready, _ledger.Out.Union(outside).ToHashSet(), cancellation);
                    _ledger.Failures.AddRange(failures);
                    _ledger.Observations.AddRange(check.Observations);
                    _ledger.NoteLeftBehind(check.LeftBehind);
                }
                else if (ready is not null)
                {
                    await ready.DisposeAsync();
                }
            }

            await CheckGuestsAsync(cancellation);
            _ledger.Failures.AddRange(answers.Failures);
            _ledger.Observations.AddRange(answers.Observations);
        }
        catch (WorkerException exception)
        {
            // No worker to be had: this study is lost, and what was measured before it is not.
            _ledger.GiveUp(exception);
        }
    }

    private void Note(Comparison comparison, double? allowedSeconds)
    {
        if (patience.HasRunOut)
        {
            _ledger.Note("the time allowed was over while a call was waited for");
        }
        else if (plan.PrecisionShare is { } precision && !comparison.Standing.IsPreciseEnough && comparison.Held > 0)
        {
            _ledger.Note(FormattableString.Invariant(
                $"not every contrast is known within {100 * precision:0.##} % in the time allowed; raise --within"));
        }
        else if (allowedSeconds is { } allowed && comparison.Held == 1)
        {
            // An interval needs two sittings and is tight from five on.
            var tight = Math.Ceiling(SittingsForTight * comparison.LeastSetSeconds * plan.Repeats);
            var least = comparison.Elapsed > allowed
                ? FormattableString.Invariant($"is less than its least, one sitting, which took {comparison.Elapsed:0.0} s")
                : "is enough for one sitting only";
            _ledger.Note(FormattableString.Invariant($"the time allowed for this study, {allowed:0.0} s, {least}; an interval needs two ")
                + FormattableString.Invariant($"and a tight one {SittingsForTight}: give it {tight:0} s with --within"));
        }
    }

    private void Report(RunStage stage, int sitting, double? secondsLeft)
    {
        var left = forecast.TimeLeft(study, secondsLeft);
        around.Progress?.Report(new RunProgress
        {
            Study = study.Name,
            Inputs = [.. study.Inputs.Select(input => input.Label)],
            Stage = stage,
            Sitting = sitting,
            SittingsPlanned = plan.PrecisionShare is null && plan.WithinSeconds is null
                ? Comparison.ReadingsOf(plan) * ((Schedule.UsualSittings(plan.AreSpeedsSought) * plan.Repeats)
                    + _comparisons.Sum(comparison => comparison.Schedule.SittingsMore))
                : 0,
            ShareDone = forecast.ShareDone(left),
            TimeLeft = left,
        });
    }
}
