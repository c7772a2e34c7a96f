using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Protocol;

/// <summary>A JSON-RPC 2.0 response: a result or an error.</summary>
sealed partial record RpcReply
{
    /// <summary>Always "2.0".</summary>
    [JsonPropertyName("jsonrpc")]
    public string Version { get; init => field = value ?? "2.0"; } = "2.0";

    /// <summary>Number of the request; null when it could not be read.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.Never)]
    public long? Id { get; init; }

    /// <summary>The result; absent when there is an error.</summary>
    public JsonElement? Result { get; init; }

    /// <summary>The error; absent when there is a result.</summary>
    public RpcError? Error { get; init; }
}
