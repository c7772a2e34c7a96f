using Tachyscope.Lab.Workers;

namespace Tachyscope.Lab.Sittings;

/// <summary>Starts workers before they are needed, while the first is met and answers are compared; later ones when they are asked
/// for.</summary>
internal sealed class StartedAhead(IWorkerStarter starter) : IWorkerStarter, IAsyncDisposable
{
    private readonly Queue<IWorker> _ready = new();

    /// <summary>Starts those that it does not start ahead.</summary>
    public IWorkerStarter Starter { get; set; } = starter;

    /// <summary>Has so many ready, those that are ready already among them.</summary>
    public void StartSome(int count)
    {
        try
        {
            while (_ready.Count < count)
            {
                _ready.Enqueue(Starter.Start());
            }
        }
        catch (WorkerException)
        {
            // Whoever asks for one hears of it.
        }
    }

    // Those of the first target only: where there are several, starting is a small part of what they take.
    public IWorker Start(int target = 0)
    {
        lock (_ready)
        {
            return target == 0 && _ready.TryDequeue(out var worker) ? worker : Starter.Start(target);
        }
    }

    public async ValueTask DisposeAsync()
    {
        while (_ready.TryDequeue(out var worker))
        {
            await worker.DisposeAsync();
        }
    }
}
