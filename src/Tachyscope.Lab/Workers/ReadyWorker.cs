using Tachyscope.Protocol;

namespace Tachyscope.Lab.Workers;

/// <summary>Starts a worker and waits until it speaks, so that its start is not counted as an operation's.</summary>
internal static class ReadyWorker
{
    public static async Task<(IWorker Worker, HelloReply Hello)> StartReadyAsync(
        this IWorkerStarter starter, Patience patience, CancellationToken cancellation, int target = 0)
    {
        var worker = starter.Start(target);
        try
        {
            var hello = await worker.AskAsync<Empty, HelloReply>(WorkerMethods.Hello, Empty.Instance, patience, cancellation);
            return (worker, hello);
        }
        catch
        {
            await worker.DisposeAsync();
            throw;
        }
    }
}
