using Tachyscope.Lab.Sittings;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Answers;

/// <summary>Compares every variant's answer with the baseline's on every input, before anything is timed.</summary>
internal sealed class AnswerCheck(IWorkerStarter starter, StudyDescription study, StudyPlace place, int seed, Patience patience, int target)
{
    private readonly List<CellObservation> _observations = [];
    private readonly List<string> _leftBehind = [];

    /// <summary>What was noticed beside the answers.</summary>
    public IReadOnlyList<CellObservation> Observations => _observations;

    /// <summary>Names of processes that its workers left running, and that were ended.</summary>
    public IReadOnlyList<string> LeftBehind => _leftBehind;

    /// <summary>Told the answers, as they can be compared with those of other targets and runs.</summary>
    public required Action<CellAnswer> Heard { get; init; }

    /// <param name="ready">A worker to begin with; disposed in the end.</param>
    /// <param name="excluded">Cells that take no part.</param>
    /// <param name="cancellation">Ends the check early.</param>
    public async Task<List<CellFailure>> RunAsync(
        IWorker? ready, IReadOnlySet<(int Variant, int Input, int Target)> excluded, CancellationToken cancellation)
    {
        var failures = new List<CellFailure>();
        var worker = ready ?? (await starter.StartReadyAsync(patience, cancellation, target)).Worker;
        try
        {
            foreach (var input in Enumerable.Range(0, study.Inputs.Count).Where(input => !study.Inputs[input].IsMix))
            {
                // The baseline first; if it fails, the next that answers is what the others must agree with.
                int? reference = null;
                IEnumerable<int> OnInput(int on) => BaselineFirst().Where(variant => !excluded.Contains((variant, on, target)));
                foreach (var variant in OnInput(input))
                {
                    if (patience.HasRunOut || failures.Exists(failure => failure.Input == input && failure.Variant == variant))
                    {
                        continue;
                    }

                    var (failure, lost) = await CheckAsync(worker, variant, input, reference ?? variant, cancellation);
                    reference ??= failure is null && study.Variants[variant].Part != VariantPart.Prepare ? variant : null;
                    if (failure is not null)
                    {
                        failures.Add(failure);
                    }

                    // No other variant gets an input that cannot be made.
                    if (lost?.Where.Place == WorkerPlace.Input)
                    {
                        failures.AddRange(OnInput(input).Where(other => other != variant)
                            .Select(other => failure! with { Variant = other }));
                    }

                    if (lost is not null && !patience.HasRunOut)
                    {
                        await DisposeAsync(worker);
                        (worker, _) = await starter.StartReadyAsync(patience, cancellation, target);
                    }
                }
            }
        }
        finally
        {
            await DisposeAsync(worker);
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
                   let reason = $"{failure.Reason}, on {study.Inputs[failure.Input].Label}"
                   select failure with { Input = mix, Reason = reason, LastLines = [] }];
    }

    private IEnumerable<int> BaselineFirst()
        => Enumerable.Range(0, study.Variants.Count)
            .OrderBy(variant => study.Variants[variant] is { IsBaseline: true, Part: not VariantPart.Prepare } ? 0 : 1);

    private async Task<(CellFailure? Failure, WorkerException? Lost)> CheckAsync(
        IWorker worker, int variant, int input, int reference, CancellationToken cancellation)
    {
        var request = new CheckRequest
        {
            Study = study.Name, Seed = seed, Input = place.Input(input)!.Value, Variant = place.Row(variant)!.Value,
            Reference = place.Row(reference)!.Value, IsAnswerWanted = true,
        };
        try
        {
            var reply = await worker.AskAsync<CheckRequest, CheckReply>(WorkerMethods.Check, request, patience, cancellation);
            // A reader of JSON leaves null where a worker left a member out.
            _observations.AddRange((reply.Observed ?? []).Select(seen => new CellObservation
            {
                Variant = variant, Input = input, Target = target, Kind = seen.Kind, Evidence = seen.Evidence,
            }));
            if (reply.Failure is null && study.Variants[variant].Part != VariantPart.Prepare)
            {
                Heard(new CellAnswer
                {
                    Variant = variant, Input = input, Target = target, Answer = reply.Answer, InputHash = reply.InputHash,
                });
            }

            return reply.Failure is { } kind
                ? (new CellFailure { Variant = variant, Input = input, Target = target, Kind = kind, Reason = reply.Reason ?? "" }, null)
                : (null, null);
        }
        catch (WorkerException exception)
        {
            var reason = exception.Where.Place == WorkerPlace.Input
                ? $"the factory of input \"{study.Inputs[input].Label}\" {exception.Message}"
                : null;
            return (exception.ToFailure(variant, input, target, reason), exception.Trouble == WorkerTrouble.Refused ? null : exception);
        }
    }

    private async Task DisposeAsync(IWorker worker)
    {
        await worker.DisposeAsync();
        _leftBehind.AddRange(worker.LeftBehind);
    }
}
