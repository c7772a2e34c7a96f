using Tachyscope.Lab.Workers;

namespace Tachyscope.Lab.Experiments;

/// <summary>Starts workers before they are needed, while answers are compared; later ones when they are asked for.</summary>
internal sealed class StartedAhead(IWorkerStarter starter) : IWorkerStarter, IAsyncDisposable
{
    private readonly Queue<IWorker> _ready = new();

    public void Start(int count)
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

    public IWorker Start()
    {
        lock (_ready)
        {
            return _ready.TryDequeue(out var worker) ? worker : starter.Start();
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
