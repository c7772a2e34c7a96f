using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>Compares every variant's answer with the baseline's on every input, before anything is timed.</summary>
internal sealed class AnswerCheck(IWorkerStarter starter, StudyDescription study, StudyPlace place, int seed, TimeSpan patience, int target)
{
    private readonly List<CellObservation> _observations = [];

    /// <summary>What was noticed beside the answers.</summary>
    public IReadOnlyList<CellObservation> Observations => _observations;

    /// <summary>Told the answers, as they can be compared with those of other targets; null when there is no other.</summary>
    public Action<CellDescription, AnswerDigest?>? Heard { get; init; }

    /// <param name="ready">A worker to begin with; disposed in the end.</param>
    /// <param name="excluded">Cells that take no part.</param>
    /// <param name="cancellation">Ends the check early.</param>
    public async Task<List<CellFailure>> RunAsync(IWorker? ready, IReadOnlySet<(int Variant, int Input, int Target)> excluded, CancellationToken cancellation)
    {
        var failures = new List<CellFailure>();
        var worker = ready ?? (await starter.StartReadyAsync(cancellation, target)).Worker;
        try
        {
            foreach (var input in Enumerable.Range(0, study.Inputs.Count).Where(input => !study.Inputs[input].IsMix))
            {
                // The baseline first; if it fails, the next that answers is what the others must agree with.
                int? reference = null;
                foreach (var variant in BaselineFirst().Where(variant => !excluded.Contains((variant, input, target))))
                {
                    var (failure, isWorkerLost) = await CheckAsync(worker, variant, input, reference ?? variant, cancellation);
                    reference ??= failure is null && study.Variants[variant].Part != VariantPart.Prepare ? variant : null;
                    if (failure is not null)
                    {
                        failures.Add(failure);
                    }

                    if (isWorkerLost)
                    {
                        await worker.DisposeAsync();
                        (worker, _) = await starter.StartReadyAsync(cancellation, target);
                    }
                }
            }
        }
        finally
        {
            await worker.DisposeAsync();
        }

        failures.AddRange(InMix(failures).Where(failure => !excluded.Contains((failure.Variant, failure.Input, target))));
        return failures;
    }

    // Who fails on one kind cannot be timed on a mix of all.
    private List<CellFailure> InMix(IReadOnlyList<CellFailure> failures)
    {
        var mixes = Enumerable.Range(0, study.Inputs.Count).Where(input => study.Inputs[input].IsMix);
        var ofKinds = failures.Where(failure => study.Inputs[failure.Input].Weight is not null).DistinctBy(failure => failure.Variant);
        return [.. from mix in mixes
                   from failure in ofKinds
                   select failure with { Input = mix, Reason = $"{failure.Reason}, on {study.Inputs[failure.Input].Label}", LastLines = [] }];
    }

    private IEnumerable<int> BaselineFirst()
        => Enumerable.Range(0, study.Variants.Count).OrderBy(variant => study.Variants[variant].IsBaseline && study.Variants[variant].Part != VariantPart.Prepare ? 0 : 1);

    private async Task<(CellFailure? Failure, bool IsWorkerLost)> CheckAsync(
        IWorker worker, int variant, int input, int reference, CancellationToken cancellation)
    {
        var request = new CheckRequest
        {
            Study = study.Name, Seed = seed, Input = place.Input(input)!.Value, Variant = place.Row(variant)!.Value, Reference = place.Row(reference)!.Value, IsAnswerWanted = Heard is not null,
        };
        try
        {
            var reply = await worker.AskAsync<CheckRequest, CheckReply>(WorkerMethods.Check, request, patience, cancellation);
            // A reader of JSON leaves null where a worker left a member out.
            _observations.AddRange((reply.Observed ?? []).Select(seen => new CellObservation { Variant = variant, Input = input, Target = target, Kind = seen.Kind, Evidence = seen.Evidence }));
            if (reply.Failure is null && study.Variants[variant].Part != VariantPart.Prepare)
            {
                Heard?.Invoke(new CellDescription { Kind = CellKind.Variant, Variant = variant, Input = input, Target = target }, reply.Answer);
            }

            return reply.Failure is { } kind
                ? (new CellFailure { Variant = variant, Input = input, Target = target, Kind = kind, Reason = reply.Reason ?? "" }, false)
                : (null, false);
        }
        catch (WorkerException exception)
        {
            return (exception.ToFailure(variant, input, target), exception.Trouble != WorkerTrouble.Refused);
        }
    }
}
