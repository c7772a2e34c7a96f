using Tachyscope.Lab.Workers;

namespace Tachyscope.Lab.Guests;

/// <summary>Starts workers of a guest.</summary>
internal sealed class GuestStarter(GuestStart start, string folder) : IWorkerStarter
{
    /// <summary>What it starts.</summary>
    public GuestStart What => start;

    /// <summary>Folder it is started in.</summary>
    public string Folder => folder;

    /// <inheritdoc/>
    public IWorker Start(int target = 0) => new GuestWorker(WorkerProcess.StartGuest(start, folder));
}
