using Tachyscope.Working;

namespace Tachyscope.Lab.Workers;

/// <summary>Starts workers from a built study project.</summary>
public sealed class WorkerStarter : IWorkerStarter
{
    private readonly string _assembly;

    /// <summary>Starts workers from an assembly.</summary>
    /// <param name="assembly">Path of the project's built assembly (.dll).</param>
    /// <exception cref="ArgumentNullException"><paramref name="assembly"/> is null.</exception>
    public WorkerStarter(string assembly)
    {
        ArgumentNullException.ThrowIfNull(assembly);
        _assembly = Path.GetFullPath(assembly);
    }

    /// <inheritdoc/>
    public IWorker Start() => WorkerProcess.Start(DotnetHost.Path, _assembly);
}
