using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Hello"/>.</summary>
sealed partial record HelloReply
{
    /// <summary>Version of the protocol the worker speaks.</summary>
    public required int Protocol { get; init; }

    /// <summary>Language of the worker kit, such as "dotnet".</summary>
    public required string Kit { get; init; }

    /// <summary>The worker's own process id.</summary>
    public required int ProcessId { get; init; }

    /// <summary>Whether its readings tell what was allocated; true by default.</summary>
    public bool IsAllocationTold { get; init; } = true;

    /// <summary>What the worker runs on.</summary>
    public required WorkerEnvironment Environment { get; init; }
}
