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

    /// <summary>Names of the targets that the starter starts workers on, the one others are compared with first; one without a name by default.</summary>
    public IReadOnlyList<string> Targets { get; init; } = [""];

    /// <summary>Measures; when cancelled, returns what was measured until then.</summary>
    /// <param name="cancellation">Ends the run early.</param>
    public async Task<RunOutcome> RunAsync(CancellationToken cancellation)
    {
        var started = _around.Clock.GetTimestamp();
        IWorker? met = null;
        try
        {
            (met, var hello) = await _starter.StartReadyAsync(cancellation);
            var (studies, refusals) = await MeetAsync(met, hello, cancellation);
            var targets = await MeetOthersAsync(hello, studies, refusals, cancellation);
            if (refusals.Count > 0)
            {
                return new RunOutcome { Refusals = refusals };
            }

            var first = met;
            met = null;
            return new RunOutcome { Run = await MeasureAsync(first, targets, studies, started, cancellation) };
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
        finally
        {
            if (met is not null)
            {
                await met.DisposeAsync();
            }
        }
    }

    private async Task<(IReadOnlyList<StudyDescription> Studies, List<string> Refusals)> MeetAsync(IWorker worker, HelloReply hello, CancellationToken cancellation)
    {
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

        return (described, refusals);
    }

    private async Task<MetTargets> MeetOthersAsync(HelloReply first, IReadOnlyList<StudyDescription> studies, List<string> refusals, CancellationToken cancellation)
    {
        var (hellos, held) = (new List<HelloReply> { first }, new List<IReadOnlyList<StudyDescription>> { studies });
        for (var target = 1; target < Targets.Count; target++)
        {
            var (worker, hello) = await _starter.StartReadyAsync(cancellation, target);
            await using (worker)
            {
                var reply = await worker.AskAsync<Empty, StudiesReply>(WorkerMethods.Studies, Empty.Instance, PatienceForNames, cancellation);
                refusals.AddRange(Refusals.Of(hello, reply, _plan).Concat(reply.Mistakes).Select(refusal => $"{Targets[target]}: {refusal}"));
                hellos.Add(hello);
                held.Add(reply.Studies);
            }
        }

        return new MetTargets(Targets, hellos, held);
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

    private async Task<Run> MeasureAsync(IWorker met, MetTargets targets, IReadOnlyList<StudyDescription> studies, long started, CancellationToken cancellation)
    {
        var record = new RunRecorder(_plan, targets, _around);
        var forecast = new Forecast(studies, _plan, targets.Processors.Count, targets.Count, _around.Clock, started);
        // Whoever was met compares the answers of the first study.
        IWorker? checking = met;
        try
        {
            foreach (var study in studies)
            {
                var session = new StudySession(_starter, study, _plan, targets, _around, forecast, record);
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
