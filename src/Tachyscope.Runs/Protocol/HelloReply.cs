using System.Text.Json.Serialization;
using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Hello"/>.</summary>
sealed partial record HelloReply
{
    /// <summary>With what is meant where nothing is said.</summary>
    /// <param name="isAllocationTold"><see cref="IsAllocationTold"/>.</param>
    [JsonConstructor]
    public HelloReply(bool isAllocationTold = true) => IsAllocationTold = isAllocationTold;

    /// <summary>Version of the protocol the worker speaks.</summary>
    public required int Protocol { get; init; }

    /// <summary>Language of the worker kit, such as "dotnet".</summary>
    public required string Kit { get; init; }

    /// <summary>The worker's own process id.</summary>
    public required int ProcessId { get; init; }

    /// <summary>Whether its readings tell what was allocated; true by default.</summary>
    public bool IsAllocationTold { get; init; }

    /// <summary>What the worker runs on.</summary>
    public required WorkerEnvironment Environment { get; init; }
}
