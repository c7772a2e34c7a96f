using Tachyscope.Working;

namespace Tachyscope.Lab.Workers;

/// <summary>Starts workers from a built study project.</summary>
public sealed class WorkerStarter : IWorkerStarter
{
    private readonly string _assembly;
    private readonly string _host;
    private readonly string? _runtimeVersion;

    /// <summary>Starts workers from an assembly.</summary>
    /// <param name="assembly">Path of the project's built assembly (.dll), or of a program that starts by itself.</param>
    /// <param name="host">Path of the <c>dotnet</c> command; the one that runs this process by default.</param>
    /// <param name="runtimeVersion">Exact version of the runtime, such as "8.0.31"; the one the assembly asks for by default.</param>
    /// <exception cref="ArgumentNullException"><paramref name="assembly"/> is null.</exception>
    public WorkerStarter(string assembly, string? host = null, string? runtimeVersion = null)
    {
        ArgumentNullException.ThrowIfNull(assembly);
        _assembly = Path.GetFullPath(assembly);
        _host = host ?? DotnetHost.Path;
        _runtimeVersion = runtimeVersion;
    }

    /// <summary>Whether what it starts is a program that needs no host.</summary>
    public bool IsProgram { get; init; }

    /// <summary>Runtime switches, without their DOTNET_ prefix.</summary>
    public IReadOnlyDictionary<string, string> Switches { get; init; } = new Dictionary<string, string>();

    /// <summary>Whether the runtime optimises at its own pace, as it must where that pace is what one wants to know; false by
    /// default.</summary>
    public bool IsPaceKept { get; init; }

    /// <summary>One that starts the same workers with more switches.</summary>
    /// <param name="more">The switches, without their DOTNET_ prefix; they win over its own.</param>
    /// <param name="isHeldToOneProcessor">Whether they are held to one processor.</param>
    internal WorkerStarter With(
        IReadOnlyDictionary<string, string> more, bool isHeldToOneProcessor) => new(_assembly, _host, _runtimeVersion)
    {
        IsProgram = IsProgram, IsPaceKept = IsPaceKept, IsHeldToOneProcessor = isHeldToOneProcessor,
        Switches = more.Concat(Switches.Where(own => !more.ContainsKey(own.Key))).ToDictionary(StringComparer.Ordinal),
    };

    /// <summary>Path of the program it starts; null when that needs a host.</summary>
    internal string? Program => IsProgram ? _assembly : null;

    /// <summary>Whether its workers are held to one processor; false by default.</summary>
    internal bool IsHeldToOneProcessor { get; init; }

    /// <inheritdoc/>
    public IWorker Start(int target = 0)
    {
        string[] version = _runtimeVersion is null ? [] : ["--fx-version", _runtimeVersion];
        var (command, arguments) = IsProgram ? (_assembly, (string[])[]) : (_host, ["exec", .. version, _assembly]);
        return WorkerProcess.Start(command, arguments, Switches, IsPaceKept, IsHeldToOneProcessor);
    }
}
