using System.Text.Json.Serialization;

namespace Tachyscope.Protocol;

/// <summary>Reads and writes the messages of the worker protocol without reflection.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(RpcRequest))]
[JsonSerializable(typeof(RpcReply))]
[JsonSerializable(typeof(Empty))]
[JsonSerializable(typeof(HelloReply))]
[JsonSerializable(typeof(StudiesReply))]
[JsonSerializable(typeof(InspectRequest))]
[JsonSerializable(typeof(InspectReply))]
[JsonSerializable(typeof(CheckRequest))]
[JsonSerializable(typeof(CheckReply))]
[JsonSerializable(typeof(OpenRequest))]
[JsonSerializable(typeof(OpenReply))]
[JsonSerializable(typeof(WarmRequest))]
[JsonSerializable(typeof(WarmReply))]
[JsonSerializable(typeof(ReadRequest))]
[JsonSerializable(typeof(ReadReply))]
[JsonSerializable(typeof(DiagnoseRequest))]
[JsonSerializable(typeof(DiagnoseReply))]
[JsonSerializable(typeof(EffectsReply))]
[JsonSerializable(typeof(HearReply))]
[JsonSerializable(typeof(CompileReply))]
[JsonSerializable(typeof(InputRequest))]
[JsonSerializable(typeof(InputReply))]
[JsonSerializable(typeof(JudgeRequest))]
[JsonSerializable(typeof(TakeRequest))]
internal sealed partial class ProtocolJson : JsonSerializerContext;
