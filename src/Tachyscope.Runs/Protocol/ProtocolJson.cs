using System.Text.Json.Serialization;

namespace Tachyscope.Protocol;

/// <summary>Reads and writes the messages of the worker protocol without reflection.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(StudiesReply), GenerationMode = Replies)]
[JsonSerializable(typeof(InspectRequest))]
[JsonSerializable(typeof(InspectReply), GenerationMode = Replies)]
[JsonSerializable(typeof(CheckRequest))]
[JsonSerializable(typeof(CheckReply), GenerationMode = Replies)]
[JsonSerializable(typeof(AnswerDigest), GenerationMode = JsonSourceGenerationMode.Metadata)]
[JsonSerializable(typeof(DiagnoseRequest))]
[JsonSerializable(typeof(DiagnoseReply), GenerationMode = Replies)]
[JsonSerializable(typeof(EffectsReply), GenerationMode = Replies)]
[JsonSerializable(typeof(HearReply), GenerationMode = Replies)]
[JsonSerializable(typeof(InputRequest))]
[JsonSerializable(typeof(InputReply), GenerationMode = Replies)]
[JsonSerializable(typeof(JudgeRequest))]
#if !STUDY_SIDE
// A worker reads and writes by hand what comes with every sitting.
[JsonSerializable(typeof(RpcRequest))]
[JsonSerializable(typeof(RpcReply))]
[JsonSerializable(typeof(Empty))]
[JsonSerializable(typeof(HelloReply))]
[JsonSerializable(typeof(OpenRequest))]
[JsonSerializable(typeof(OpenReply))]
[JsonSerializable(typeof(WarmRequest))]
[JsonSerializable(typeof(WarmReply))]
[JsonSerializable(typeof(ReadRequest))]
[JsonSerializable(typeof(ReadReply))]
[JsonSerializable(typeof(CompileReply))]
[JsonSerializable(typeof(TakeRequest))]
#endif
internal sealed partial class ProtocolJson : JsonSerializerContext
{
#if STUDY_SIDE
    // A worker reads none: what reading takes would be a third of all that is compiled when it starts.
    private const JsonSourceGenerationMode Replies = JsonSourceGenerationMode.Serialization;
#else
    private const JsonSourceGenerationMode Replies = JsonSourceGenerationMode.Default;
#endif
}
