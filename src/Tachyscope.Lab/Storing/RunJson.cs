using System.Text.Json.Serialization;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Storing;

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(Run))]
internal sealed partial class RunJson : JsonSerializerContext;
