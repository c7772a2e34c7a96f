using System.Text.Json;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Input"/>.</summary>
sealed partial record InputReply
{
    /// <summary>The input as JSON.</summary>
    public required JsonElement Value { get; init; }
}
