using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using Tachyscope.Protocol;

namespace Tachyscope.Storing;

/// <summary>How files and a worker's replies are written and read.</summary>
internal static class RunJson
{
    public static JsonSerializerOptions Options { get; } = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        RespectNullableAnnotations = true,
        Converters = { new ReadingLinesConverter(), new VisibleText.Converter() },
        TypeInfoResolver = JsonTypeInfoResolver.Combine(RunTypes.Default, ProtocolJson.Default),
    };
}
