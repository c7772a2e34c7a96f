using Tachyscope.Lab.Workers;

namespace Tachyscope.Lab.Guests;

/// <summary>Starts workers of a guest.</summary>
internal sealed class GuestStarter(GuestStart start, string folder) : IWorkerStarter
{
    /// <inheritdoc/>
    public IWorker Start(int target = 0) => new GuestWorker(WorkerProcess.StartGuest(start, folder));
}
