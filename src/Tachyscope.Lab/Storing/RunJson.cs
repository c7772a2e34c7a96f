using System.Text.Json.Serialization;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Storing;

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(Run))]
[JsonSerializable(typeof(List<MachineLimits>))]
internal sealed partial class RunJson : JsonSerializerContext;
