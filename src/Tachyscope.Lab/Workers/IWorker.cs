namespace Tachyscope.Lab.Workers;

/// <summary>A process that measures, as the tool sees it.</summary>
public interface IWorker : IAsyncDisposable
{
    /// <summary>The last lines it printed that were no replies, oldest first.</summary>
    IReadOnlyList<string> LastLines { get; }

    /// <summary>Names of processes that it had started and that went on without it; known once it is disposed, which ends them.</summary>
    IReadOnlyList<string> LeftBehind { get; }

    /// <summary>Sends one request and waits for its reply.</summary>
    /// <typeparam name="TRequest">Type of the parameters.</typeparam>
    /// <typeparam name="TReply">Type of the result.</typeparam>
    /// <param name="method">Name of the method.</param>
    /// <param name="request">The parameters.</param>
    /// <param name="patience">How long the worker may stand still.</param>
    /// <param name="cancellation">Ends the wait.</param>
    /// <exception cref="WorkerException">The worker died, stood still for too long, or answered with an error.</exception>
    Task<TReply> AskAsync<TRequest, TReply>(string method, TRequest request, Patience patience, CancellationToken cancellation)
        where TRequest : class
        where TReply : class;
}
