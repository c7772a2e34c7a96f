using Tachyscope.Lab.Workers;

namespace Tachyscope.Lab.Sittings;

/// <summary>Starts workers before they are needed, while answers are compared; later ones when they are asked for.</summary>
internal sealed class StartedAhead(IWorkerStarter starter) : IWorkerStarter, IAsyncDisposable
{
    private readonly Queue<IWorker> _ready = new();

    public void StartSome(int count)
    {
        try
        {
            for (var worker = 0; worker < count; worker++)
            {
                _ready.Enqueue(starter.Start());
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
            return target == 0 && _ready.TryDequeue(out var worker) ? worker : starter.Start(target);
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
