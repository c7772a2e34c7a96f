using Tachyscope.Lab.Planning;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Sittings;

/// <summary>The workers of one sitting: started, asked, and taken leave of; what the first lost one was at is kept.</summary>
internal sealed class SittingCrew(IWorkerStarter starter, SittingPlan order, StudySeats seats, Patience patience) : IAsyncDisposable
{
    private readonly IWorker?[] _workers = new IWorker?[order.Workers];

    /// <summary>What a worker was at when it failed; null when none has failed.</summary>
    public LostWorker? Lost { get; private set; }

    /// <summary>Names of processes that its workers left running, and that were ended.</summary>
    public List<string> LeftBehind { get; } = [];

    public async Task StartAsync(int index, CancellationToken cancellation)
    {
        var (worker, _) = await starter.StartReadyAsync(patience, cancellation, seats.Of(order.CellOf(index)));
        _workers[index] = worker;
    }

    public async Task<TReply> AskAsync<TRequest, TReply>(int index, string method, TRequest request, CancellationToken cancellation)
        where TRequest : class
        where TReply : class
    {
        try
        {
            return await _workers[index]!.AskAsync<TRequest, TReply>(method, request, patience, cancellation);
        }
        // What a guest answers otherwise than asked is its own fault, and no other row's.
        catch (WorkerException exception) when (exception.Trouble != WorkerTrouble.Refused || order.CellOf(index).Guest is not null)
        {
            Lost ??= new LostWorker(exception, AtWork(index, exception.Where)) { IsGuest = order.CellOf(index).Guest is not null };
            throw;
        }
    }

    /// <summary>What a worker hears when it compiles its loops once more; null from one that does not know how.</summary>
    public async Task<CompileReply?> HearAsync(int index, CancellationToken cancellation)
    {
        try
        {
            return await AskAsync<Empty, CompileReply>(index, WorkerMethods.Compile, Empty.Instance, cancellation);
        }
        catch (WorkerException exception) when (exception.Trouble == WorkerTrouble.Refused)
        {
            return null;
        }
    }

    public async Task TakeLeaveAsync(CancellationToken cancellation)
    {
        foreach (var worker in _workers)
        {
            await worker!.AskAsync<Empty, Empty>(WorkerMethods.Bye, Empty.Instance, patience, cancellation);
        }
    }

    public async ValueTask DisposeAsync()
    {
        for (var index = 0; index < _workers.Length; index++)
        {
            if (_workers[index] is { } running)
            {
                _workers[index] = null;
                await running.DisposeAsync();
                LeftBehind.AddRange(running.LeftBehind);
            }
        }
    }

    // A twin is its variant; what is no operation of the study's is nobody's.
    private CellDescription? AtWork(int worker, WorkerWhere where)
        => order.CellOf(worker).Guest is not null ? order.Cells.First(cell => cell.Worker == worker && cell.Kind == CellKind.Variant)
            : where.Place == WorkerPlace.Cell
            && order.Cells[order.FirstOf(worker) + where.Index] is { Kind: CellKind.Variant or CellKind.Twin } cell ? cell : null;
}
