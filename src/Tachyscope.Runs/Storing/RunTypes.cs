using System.Text.Json.Serialization;
using Tachyscope.Runs;

namespace Tachyscope.Storing;

/// <summary>How runs, and what is kept beside them, are read and written, found out when this is built instead of at each start.</summary>
/// <remarks>
/// Members that a file does not have are given as null, or as their constructor's own default; so each record says there what is meant.
/// </remarks>
[JsonSourceGenerationOptions(GenerationMode = JsonSourceGenerationMode.Metadata)]
[JsonSerializable(typeof(Run))]
[JsonSerializable(typeof(List<MachineLimits>))]
internal sealed partial class RunTypes : JsonSerializerContext;
