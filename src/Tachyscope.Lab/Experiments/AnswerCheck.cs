using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>Compares every variant's answer with the baseline's on every input, before anything is timed.</summary>
internal sealed class AnswerCheck(IWorkerStarter starter, StudyDescription study, int seed, TimeSpan patience)
{
    public async Task<List<CellFailure>> RunAsync(CancellationToken cancellation)
    {
        var failures = new List<CellFailure>();
        var (worker, _) = await starter.StartReadyAsync(cancellation);
        try
        {
            for (var input = 0; input < study.Inputs.Count; input++)
            {
                // The baseline first; if it fails, the next that answers is what the others must agree with.
                int? reference = null;
                foreach (var variant in BaselineFirst())
                {
                    var (failure, isWorkerLost) = await CheckAsync(worker, variant, input, reference ?? variant, cancellation);
                    reference ??= failure is null ? variant : null;
                    if (failure is not null)
                    {
                        failures.Add(failure);
                    }

                    if (isWorkerLost)
                    {
                        await worker.DisposeAsync();
                        (worker, _) = await starter.StartReadyAsync(cancellation);
                    }
                }
            }
        }
        finally
        {
            await worker.DisposeAsync();
        }

        return failures;
    }

    private IEnumerable<int> BaselineFirst()
        => Enumerable.Range(0, study.Variants.Count).OrderBy(variant => study.Variants[variant].IsBaseline ? 0 : 1);

    private async Task<(CellFailure? Failure, bool IsWorkerLost)> CheckAsync(
        IWorker worker, int variant, int input, int reference, CancellationToken cancellation)
    {
        var request = new CheckRequest { Study = study.Name, Seed = seed, Input = input, Variant = variant, Reference = reference };
        try
        {
            var reply = await worker.AskAsync<CheckRequest, CheckReply>(WorkerMethods.Check, request, patience, cancellation);
            return reply.Failure is { } kind
                ? (new CellFailure { Variant = variant, Input = input, Kind = kind, Reason = reply.Reason ?? "" }, false)
                : (null, false);
        }
        catch (WorkerException exception)
        {
            return (exception.ToFailure(variant, input), exception.Trouble != WorkerTrouble.Refused);
        }
    }
}
