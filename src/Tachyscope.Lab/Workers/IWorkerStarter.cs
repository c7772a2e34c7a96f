namespace Tachyscope.Lab.Workers;

/// <summary>Starts fresh workers of one project.</summary>
public interface IWorkerStarter
{
    /// <summary>Starts a worker; the caller disposes it.</summary>
    /// <exception cref="WorkerException">It could not be started.</exception>
    IWorker Start();
}
