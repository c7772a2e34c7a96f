using System.Diagnostics;
using Tachyscope.Lab.Workers;
using Tachyscope.Protocol;

namespace Tachyscope.Bench;

/// <summary>Workers whose time after warm-up is taken, from the answer to "warm" until they are told to end.</summary>
internal sealed class TimedWorkers(IWorkerStarter starter) : IWorkerStarter
{
    public double SecondsAfterWarmUp { get; private set; }

    public IWorker Start(int target = 0) => new Timed(starter.Start(target), this);

    private sealed class Timed(IWorker worker, TimedWorkers times) : IWorker
    {
        private long _warmed;

        public IReadOnlyList<string> LastLines => worker.LastLines;

        public IReadOnlyList<string> LeftBehind => worker.LeftBehind;

        public async Task<TReply> AskAsync<TRequest, TReply>(
            string method, TRequest request, Patience patience, CancellationToken cancellation)
            where TRequest : class
            where TReply : class
        {
            if (method == WorkerMethods.Bye)
            {
                times.SecondsAfterWarmUp += Stopwatch.GetElapsedTime(_warmed).TotalSeconds;
            }

            var reply = await worker.AskAsync<TRequest, TReply>(method, request, patience, cancellation);
            _warmed = method == WorkerMethods.Warm ? Stopwatch.GetTimestamp() : _warmed;
            return reply;
        }

        public ValueTask DisposeAsync() => worker.DisposeAsync();
    }
}
