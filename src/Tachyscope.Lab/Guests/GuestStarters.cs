using Tachyscope.Lab.Workers;

namespace Tachyscope.Lab.Guests;

/// <summary>Starts workers of targets, and behind them those of guests.</summary>
internal sealed class GuestStarters(IWorkerStarter targets, int count, IReadOnlyList<IWorkerStarter?> guests) : IWorkerStarter
{
    /// <inheritdoc/>
    public IWorker Start(int target = 0)
        => target < count ? targets.Start(target)
            : guests[target - count]?.Start() ?? throw new WorkerException(WorkerTrouble.NotStarted, "was not built");
}
