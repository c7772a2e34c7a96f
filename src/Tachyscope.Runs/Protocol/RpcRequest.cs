using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Protocol;

/// <summary>A JSON-RPC 2.0 request.</summary>
sealed partial record RpcRequest
{
    /// <summary>Always "2.0".</summary>
    [JsonPropertyName("jsonrpc")]
    public string Version { get; init => field = value ?? "2.0"; } = "2.0";

    /// <summary>Number that the reply repeats.</summary>
    public long? Id { get; init; }

    /// <summary>One of <see cref="WorkerMethods"/>.</summary>
    public required string Method { get; init; }

    /// <summary>Parameters by name; absent when there are none.</summary>
    [JsonPropertyName("params")]
    public JsonElement? Parameters { get; init; }
}
