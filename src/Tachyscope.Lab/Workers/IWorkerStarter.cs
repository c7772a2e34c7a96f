namespace Tachyscope.Lab.Workers;

/// <summary>Starts fresh workers of one project, on any of its targets.</summary>
public interface IWorkerStarter
{
    /// <summary>Starts a worker; the caller disposes it.</summary>
    /// <param name="target">Index of the target; 0 for the first, or the only one.</param>
    /// <exception cref="WorkerException">It could not be started.</exception>
    IWorker Start(int target = 0);
}
