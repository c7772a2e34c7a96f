using System.Text.Json.Serialization;

namespace Tachyscope.Protocol;

/// <summary>Reads and writes the messages of the worker protocol without reflection.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(RpcRequest))]
[JsonSerializable(typeof(RpcReply), GenerationMode = Replies)]
[JsonSerializable(typeof(Empty))]
[JsonSerializable(typeof(HelloReply), GenerationMode = Replies)]
[JsonSerializable(typeof(StudiesReply), GenerationMode = Replies)]
[JsonSerializable(typeof(InspectRequest))]
[JsonSerializable(typeof(InspectReply), GenerationMode = Replies)]
[JsonSerializable(typeof(CheckRequest))]
[JsonSerializable(typeof(CheckReply), GenerationMode = Replies)]
[JsonSerializable(typeof(OpenRequest))]
[JsonSerializable(typeof(OpenReply), GenerationMode = Replies)]
[JsonSerializable(typeof(WarmRequest))]
[JsonSerializable(typeof(WarmReply), GenerationMode = Replies)]
[JsonSerializable(typeof(ReadRequest))]
[JsonSerializable(typeof(ReadReply), GenerationMode = Replies)]
[JsonSerializable(typeof(DiagnoseRequest))]
[JsonSerializable(typeof(DiagnoseReply), GenerationMode = Replies)]
[JsonSerializable(typeof(EffectsReply), GenerationMode = Replies)]
[JsonSerializable(typeof(HearReply), GenerationMode = Replies)]
[JsonSerializable(typeof(CompileReply), GenerationMode = Replies)]
[JsonSerializable(typeof(InputRequest))]
[JsonSerializable(typeof(InputReply), GenerationMode = Replies)]
[JsonSerializable(typeof(JudgeRequest))]
[JsonSerializable(typeof(TakeRequest))]
internal sealed partial class ProtocolJson : JsonSerializerContext
{
#if STUDY_SIDE
    // A worker reads none: what reading takes would be a third of all that is compiled when it starts.
    private const JsonSourceGenerationMode Replies = JsonSourceGenerationMode.Serialization;
#else
    private const JsonSourceGenerationMode Replies = JsonSourceGenerationMode.Default;
#endif
}
