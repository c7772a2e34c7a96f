namespace Tachyscope.Lab.Workers;

/// <summary>Starts workers of one project built for several targets, each from its own build.</summary>
/// <param name="starters">What starts them, one for each target.</param>
public sealed class TargetStarters(IReadOnlyList<IWorkerStarter> starters) : IWorkerStarter
{
    /// <inheritdoc/>
    public IWorker Start(int target = 0) => starters[target].Start();
}
