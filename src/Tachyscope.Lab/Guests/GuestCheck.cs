using System.Text.Json;
using Tachyscope.Lab.Sittings;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>Has the study's own worker write inputs down for guests, and compares what they answer.</summary>
/// <param name="starter">Starts workers, of guests too.</param>
/// <param name="study">The study.</param>
/// <param name="seats">Who holds which of its rows.</param>
/// <param name="inputs">Where inputs are kept for the sittings.</param>
/// <param name="seed">Seed handed to input factories.</param>
/// <param name="patience">How long workers may stand still.</param>
internal sealed class GuestCheck(
    IWorkerStarter starter, StudyDescription study, StudySeats seats, GuestInputs inputs, int seed, Patience patience) : IAsyncDisposable
{
    // Who writes inputs down and compares is the study on the first target.
    private IWorker? _host;

    /// <param name="excluded">Cells that take no part.</param>
    /// <param name="cancellation">Ends the check early.</param>
    public async Task<List<CellFailure>> RunAsync(
        IReadOnlySet<(int Variant, int Input, int Target)> excluded, CancellationToken cancellation)
    {
        var failures = new List<CellFailure>();
        var references = Enumerable.Range(0, study.Inputs.Count).Select(input => ReferenceOf(input, excluded)).ToList();
        foreach (var row in seats.GuestRows)
        {
            IWorker? worker = null;
            try
            {
                foreach (var input in Enumerable.Range(0, study.Inputs.Count).Where(input => !excluded.Contains((row, input, 0))))
                {
                    if (patience.HasRunOut)
                    {
                        break;
                    }

                    try
                    {
                        worker ??= await StartAsync(row, cancellation);
                        var failure = await CheckAsync(worker, row, input, references[input] ?? row, cancellation);
                        failures.AddRange(failure is null ? [] : [failure]);
                        references[input] ??= failure is null ? row : null;
                    }
                    catch (WorkerException exception)
                    {
                        failures.Add(exception.ToFailure(row, input, 0));
                        if (exception.Trouble != WorkerTrouble.Refused)
                        {
                            await DisposeAsync(worker);
                            worker = null;
                        }
                    }
                }
            }
            finally
            {
                await DisposeAsync(worker);
            }
        }

        return failures;
    }

    public ValueTask DisposeAsync() => _host?.DisposeAsync() ?? ValueTask.CompletedTask;

    private int? ReferenceOf(int input, IReadOnlySet<(int Variant, int Input, int Target)> excluded)
        => Enumerable.Range(0, study.Variants.Count)
            .Where(row => study.Variants[row].Guest is null && study.Variants[row].Part != VariantPart.Prepare
                && !excluded.Contains((row, input, 0)))
            .OrderBy(row => study.Variants[row].IsBaseline ? 0 : 1).Select(row => (int?)row).FirstOrDefault();

    private async Task<IWorker> StartAsync(int row, CancellationToken cancellation)
        => (await starter.StartReadyAsync(patience, cancellation, seats.OfRow(row))).Worker;

    private static async Task DisposeAsync(IWorker? worker)
    {
        if (worker is not null)
        {
            await worker.DisposeAsync();
        }
    }

    private async Task<CellFailure?> CheckAsync(IWorker worker, int row, int input, int reference, CancellationToken cancellation)
    {
        if (!seats.IsOurs(row))
        {
            await GiveAsync(worker, row, input, cancellation);
        }

        var request = new CheckRequest
        {
            Study = study.Name, Seed = seed, Input = input, Variant = seats.OwnRow(row),
            Reference = seats.IsOurs(row) ? seats.OwnReference(row) : seats.OwnRow(row),
        };
        var answer = await worker.AskAsync<CheckRequest, CheckReply>(WorkerMethods.Check, request, patience, cancellation);
        if (answer.Failure is not null)
        {
            return Failed(row, input, answer);
        }

        if (seats.IsOurs(row))
        {
            return null;
        }

        var judged = await AskHostAsync<JudgeRequest, CheckReply>(WorkerMethods.Judge, new JudgeRequest
        {
            Study = study.Name, Seed = seed, Input = input, Variant = row, Reference = reference,
            Value = answer.Value ?? JsonSerializer.SerializeToElement<object?>(null),
        }, cancellation);
        return judged.Failure is null ? null : Failed(row, input, judged);
    }

    private async Task GiveAsync(IWorker worker, int row, int input, CancellationToken cancellation)
    {
        if (!inputs.Has(row, input))
        {
            var made = await AskHostAsync<InputRequest, InputReply>(
                WorkerMethods.Input, new InputRequest { Study = study.Name, Seed = seed, Input = input, Variant = row }, cancellation);
            inputs.Keep(row, input, made.Value);
        }

        var take = new TakeRequest { Inputs = [.. inputs.Of(row).Where(given => given.Input == input)] };
        await worker.AskAsync<TakeRequest, Empty>(WorkerMethods.Take, take, patience, cancellation);
    }

    private async Task<TReply> AskHostAsync<TRequest, TReply>(string method, TRequest request, CancellationToken cancellation)
        where TRequest : class
        where TReply : class
    {
        _host ??= (await starter.StartReadyAsync(patience, cancellation)).Worker;
        try
        {
            return await _host.AskAsync<TRequest, TReply>(method, request, patience, cancellation);
        }
        catch (WorkerException exception) when (exception.Trouble != WorkerTrouble.Refused)
        {
            await _host.DisposeAsync();
            _host = null;
            // The guest is not to blame, and its worker goes on.
            throw new WorkerException(WorkerTrouble.Refused,
                $"its input could not be written down or its answer compared: the study's worker "
                + exception.Message, exception.LastLines);
        }
    }

    private static CellFailure Failed(int row, int input, CheckReply reply)
        => new() { Variant = row, Input = input, Kind = reply.Failure!.Value, Reason = reply.Reason ?? "" };
}
