using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>Measures the studies of a project: checks their answers, holds their sittings, keeps every reading.</summary>
public sealed class Experiment
{
    private static readonly TimeSpan PatienceForNames = TimeSpan.FromSeconds(30);

    private readonly IWorkerStarter _starter;
    private readonly RunPlan _plan;
    private readonly ExperimentSurroundings _around;

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
        _starter = starter;
        _plan = plan;
        _around = around;
    }

    /// <summary>Measures; when cancelled, returns what was measured until then.</summary>
    /// <param name="cancellation">Ends the run early.</param>
    public async Task<RunOutcome> RunAsync(CancellationToken cancellation)
    {
        var started = _around.Clock.GetTimestamp();
        try
        {
            var (hello, studies, refusals) = await MeetAsync(cancellation);
            return refusals.Count > 0
                ? new RunOutcome { Refusals = refusals }
                : new RunOutcome { Run = await MeasureAsync(hello.Environment, studies, started, cancellation) };
        }
        catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
        {
            return new RunOutcome();
        }
        catch (WorkerException exception)
        {
            var reason = exception.Trouble is WorkerTrouble.Died or WorkerTrouble.Hung
                ? $"the study project could not be run as a worker: it {exception.Message}; its Main must end with: return await Studies.RunAsync(args, …)."
                : exception.Message;
            return new RunOutcome { CouldNotRun = true, Refusals = [reason, .. exception.LastLines.Select(line => $"    {line}")] };
        }
    }

    private async Task<(HelloReply Hello, IReadOnlyList<StudyDescription> Studies, List<string> Refusals)> MeetAsync(CancellationToken cancellation)
    {
        var (worker, hello) = await _starter.StartReadyAsync(cancellation);
        await using var _ = worker;
        var reply = await worker.AskAsync<Empty, StudiesReply>(WorkerMethods.Studies, Empty.Instance, PatienceForNames, cancellation);
        var chosen = StudyFilter.Choose(reply.Studies, _plan.Only);
        var refusals = new List<string>(Refusals.Of(hello, reply, _plan));
        refusals.AddRange(reply.Mistakes);
        refusals.AddRange(chosen.SelectMany(study => study.Mistakes));
        var described = new List<StudyDescription>();
        foreach (var study in chosen)
        {
            var inspected = await InspectAsync(worker, study, cancellation);
            refusals.AddRange(inspected.Mistakes);
            described.Add(inspected.Work.Count == 0 ? study : study with
            {
                Inputs = [.. study.Inputs.Zip(inspected.Work, (input, work) => input with { Work = work })],
            });
        }

        return (hello, described, refusals);
    }

    private async Task<InspectReply> InspectAsync(IWorker worker, StudyDescription study, CancellationToken cancellation)
    {
        if (study.Inputs.Count == 0)
        {
            return new InspectReply { Mistakes = [] };
        }

        // Every input is made twice.
        var patience = TimeSpan.FromSeconds(_plan.PatienceSeconds * study.Inputs.Count * 2);
        var request = new InspectRequest { Study = study.Name, Seed = _plan.Seed };
        return await worker.AskAsync<InspectRequest, InspectReply>(WorkerMethods.Inspect, request, patience, cancellation);
    }

    private async Task<Run> MeasureAsync(WorkerEnvironment environment, IReadOnlyList<StudyDescription> studies, long started, CancellationToken cancellation)
    {
        var record = new RunRecorder(_plan, environment, _around);
        var forecast = new Forecast(studies, _plan, _around.Clock, started);
        foreach (var study in studies)
        {
            var session = new StudySession(_starter, study, _plan, environment.Processors, _around, forecast, record);
            try
            {
                await session.MeasureAsync(cancellation);
            }
            catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
            {
                return record.End(RunState.Interrupted);
            }
        }

        return record.End(RunState.Complete);
    }
}
