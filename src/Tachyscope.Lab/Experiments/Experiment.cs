using Tachyscope.Lab.Building;
using Tachyscope.Lab.Diagnoses;
using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Planning;
using Tachyscope.Lab.Sittings;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>Measures the studies of a project: checks their answers, holds their sittings, keeps every reading.</summary>
public sealed class Experiment
{
    private readonly IWorkerStarter _targets;
    private IWorkerStarter _starter;
    private readonly RunPlan _plan;
    private readonly ExperimentSurroundings _around;
    private readonly Patience _patience;

    /// <summary>An experiment on one project.</summary>
    /// <param name="starter">Starts its workers.</param>
    /// <param name="plan">What to do.</param>
    /// <param name="around">Clock, watchers and the judge of precision.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public Experiment(IWorkerStarter starter, RunPlan plan, ExperimentSurroundings around)
    {
        ArgumentNullException.ThrowIfNull(starter);
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(around);
        (_targets, _starter) = (starter, starter);
        _plan = plan;
        _around = around;
        _patience = new Patience(plan);
    }

    /// <summary>The targets that the starter starts workers on, the one others are compared with first; one without a name by
    /// default.</summary>
    public IReadOnlyList<PreparedTarget> Targets { get; init; } = [new(new Target { Name = "" }, null, [])];

    /// <summary>Builds guests; null when there is nobody who could, so that they are not measured.</summary>
    public IGuestMaker? Guests { get; init; }

    /// <summary>Whether only those studies are measured that every target has; false by default.</summary>
    public bool IsOnlyCommonMeasured { get; init; }

    /// <summary>Measures; when cancelled, returns what was measured until then.</summary>
    /// <param name="cancellation">Ends the run early.</param>
    public async Task<RunOutcome> RunAsync(CancellationToken cancellation)
    {
        var started = _around.Clock.GetTimestamp();
        IWorker? met = null;
        try
        {
            (met, var targets, var refusals) = await MeetAsync(cancellation);
            // Building guests is not measuring.
            started += (long)(_patience.Building.TotalSeconds * _around.Clock.TimestampFrequency);
            var studies = StudyFilter.Choose(targets.All, _plan.Only);
            refusals.AddRange(Refusals.OfPatterns(targets.All, _plan.Only));
            string[] aside = IsOnlyCommonMeasured ? [.. Aside(targets, studies)] : [];
            if (IsOnlyCommonMeasured)
            {
                var common = studies.Where(study => Enumerable.Range(0, targets.Count).All(target => targets.Has(study.Name, target)))
                    .ToList();
                refusals.AddRange(common.Count == 0 && studies.Count > 0
                    ? [$"no study is on both sides: {string.Join("; ", aside)}."] : []);
                studies = common;
            }

            if (refusals.Count > 0)
            {
                return new RunOutcome { Refusals = refusals };
            }

            var first = met;
            met = null;
            var run = await MeasureAsync(first, targets, studies, started, cancellation);
            return new RunOutcome { Run = run, Aside = [.. aside, .. Unbegun(run, studies)] };
        }
        catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
        {
            return new RunOutcome();
        }
        catch (WorkerException exception)
        {
            return new RunOutcome { CouldNotRun = true, Refusals = [.. Explained(exception)] };
        }
        finally
        {
            if (met is not null)
            {
                await met.DisposeAsync();
            }
        }
    }

    /// <summary>Meets the targets and measures nothing.</summary>
    /// <param name="cancellation">Ends it early.</param>
    /// <returns>The studies that would be measured; and why none can be, each reason with its way out.</returns>
    public async Task<(IReadOnlyList<StudyDescription> Studies,
        IReadOnlyList<string> Refusals)> DescribeAsync(CancellationToken cancellation)
    {
        try
        {
            var (met, targets, refusals) = await MeetAsync(cancellation);
            await met.DisposeAsync();
            return (StudyFilter.Choose(targets.All, _plan.Only), [.. refusals, .. Refusals.OfPatterns(targets.All, _plan.Only)]);
        }
        catch (WorkerException exception)
        {
            return ([], [.. Explained(exception)]);
        }
    }

    private static IEnumerable<string> Explained(WorkerException exception)
    {
        var reason = exception.Trouble is WorkerTrouble.Refused or WorkerTrouble.NotStarted || exception.Where.Place != WorkerPlace.Own
            ? exception.Message
            : $"the study project could not be run as a worker: it {exception.Message}; its Main must end with: "
                + "return await Studies.RunAsync(args, …).";
        return [reason, .. exception.LastLines.Select(line => $"    {line}")];
    }

    private static IEnumerable<string> Unbegun(Run run, IReadOnlyList<StudyDescription> studies)
    {
        var names = studies.Skip(run.Studies.Count).Select(study => $"\"{study.Name}\"").ToList();
        return run.State == RunState.Complete && names.Count > 0 ? [$"the time allowed was over before {string.Join(", ", names)}"] : [];
    }

    private static IEnumerable<string> Aside(MetTargets targets, IReadOnlyList<StudyDescription> studies)
        => from target in Enumerable.Range(0, targets.Count)
           let own = studies.Where(study => Enumerable.Range(0, targets.Count)
                   .All(other => targets.Has(study.Name, other) == (other == target)))
               .Select(study => $"\"{study.Name}\"").ToList()
           where own.Count > 0
           select $"only {targets.Targets[target].Target.Name} has {string.Join(", ", own)}";

    // The first target's worker is kept: whoever was met compares answers next.
    private async Task<(IWorker First, MetTargets Targets, List<string> Refusals)> MeetAsync(CancellationToken cancellation)
    {
        IWorker? first = null;
        var (hellos, refusals) = (new List<HelloReply>(), new List<string>());
        var (held, effects) = (new List<IReadOnlyList<StudyDescription>>(), new List<IReadOnlyList<SwitchState>>());
        try
        {
            for (var index = 0; index < Targets.Count; index++)
            {
                var target = Targets[index].Target;
                var (worker, hello) = await StartAsync(index, cancellation);
                try
                {
                    var (studies, problems) = await MeetAsync(worker, hello, target, cancellation);
                    hellos.Add(hello);
                    held.Add(studies);
                    refusals.AddRange(problems.Select(problem => target.Name.Length == 0 ? problem : $"{target.Name}: {problem}"));
                }
                finally
                {
                    (first, var done) = first is null ? (worker, null) : (first, worker);
                    if (done is not null)
                    {
                        await done.DisposeAsync();
                    }
                }

                var switches = await SwitchCheck.LookAsync(_starter, index, target, _patience, cancellation);
                effects.Add(switches.States);
                refusals.AddRange(_plan.IsInsisted ? [] : switches.Problems);
            }

            var guests = refusals.Count == 0 && Guests is not null
                ? await GuestMeeting.MeetAsync(Guests, StudyFilter.Choose(held[0], _plan.Only), _patience, cancellation)
                : [];
            held[0] = [.. held[0].Select(study => GuestMeeting.Told(study, guests))];
            _starter = guests.Count == 0 ? _targets
                : new GuestStarters(_targets, Targets.Count, [.. guests.Select(guest => guest.Starter)]);
            return (first!, new MetTargets(Targets, hellos, held, effects, guests, _around), refusals);
        }
        catch when (first is not null)
        {
            await first.DisposeAsync();
            throw;
        }
    }

    private async Task<(IWorker Worker, HelloReply Hello)> StartAsync(int index, CancellationToken cancellation)
    {
        try
        {
            return await _starter.StartReadyAsync(_patience, cancellation, index);
        }
        catch (WorkerException exception) when (Targets.Count > 1)
        {
            throw new WorkerException(exception.Trouble, $"{exception.Message} (on {Targets[index].Target.Name})", exception.LastLines);
        }
    }

    private async Task<(IReadOnlyList<StudyDescription> Studies, List<string> Problems)> MeetAsync(
        IWorker worker, HelloReply hello, Target target, CancellationToken cancellation)
    {
        var reply = await worker.AskAsync<Empty, StudiesReply>(WorkerMethods.Studies, Empty.Instance, _patience, cancellation);
        var problems = new List<string>(Refusals.Of(hello, target, _plan));
        problems.AddRange(reply.Mistakes);
        var described = new List<StudyDescription>();
        foreach (var study in reply.Studies)
        {
            // What is not measured need not be looked at.
            var isMeant = StudyFilter.Choose([study], _plan.Only).Count > 0;
            problems.AddRange(isMeant ? study.Mistakes : []);
            var inspected = isMeant ? await InspectAsync(worker, study, cancellation) : new InspectReply { Mistakes = [] };
            problems.AddRange(inspected.Mistakes);
            var told = SourceFinder.WithLines(study);
            described.Add(inspected.Work.Count == 0 ? told : told with
            {
                Inputs = [.. told.Inputs.Zip(inspected.Work, (input, work) => input with { Work = work })],
            });
        }

        return (described, problems);
    }

    private async Task<InspectReply> InspectAsync(IWorker worker, StudyDescription study, CancellationToken cancellation)
    {
        if (study.Inputs.Count == 0)
        {
            return new InspectReply { Mistakes = [] };
        }

        var request = new InspectRequest { Study = study.Name, Seed = _plan.Seed };
        try
        {
            return await worker.AskAsync<InspectRequest, InspectReply>(WorkerMethods.Inspect, request, _patience, cancellation);
        }
        catch (WorkerException exception) when (exception.Trouble == WorkerTrouble.Refused && study.Mistakes.Count > 0)
        {
            // A name that cannot be written cannot be asked for either, and that is told already.
            return new InspectReply { Mistakes = [] };
        }
        catch (WorkerException exception) when (exception.Where.Place == WorkerPlace.Input)
        {
            var input = study.Inputs[exception.Where.Index].Label;
            var reason = $"study \"{study.Name}\": the factory of input \"{input}\" {exception.Message}.";
            throw new WorkerException(exception.Trouble, reason, exception.LastLines) { Where = exception.Where };
        }
    }

    private async Task<Run> MeasureAsync(
        IWorker met, MetTargets targets, IReadOnlyList<StudyDescription> studies, long started, CancellationToken cancellation)
    {
        var record = new RunRecorder(_plan, targets, _around);
        var forecast = new Forecast(studies, _plan, targets.AtOnce, targets.Count, _around.Clock, started);
        // Whoever was met compares the answers of the first study.
        IWorker? checking = met;
        try
        {
            foreach (var study in studies.TakeWhile(_ => !_patience.HasRunOut))
            {
                using var session = new StudySession(_starter, study, _plan, targets, _patience, _around, forecast, record);
                (var worker, checking) = (checking, null);
                await session.MeasureAsync(worker, cancellation);
            }

            return record.End(RunState.Complete);
        }
        catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
        {
            return record.End(RunState.Interrupted);
        }
        finally
        {
            if (checking is not null)
            {
                await checking.DisposeAsync();
            }
        }
    }
}
