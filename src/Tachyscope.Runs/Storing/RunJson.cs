using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Tachyscope.Storing;

/// <summary>How files are written and read.</summary>
/// <remarks>By reflection: generated code would leave members that a file does not have at null instead of at their defaults.</remarks>
internal static class RunJson
{
    public static JsonSerializerOptions Options { get; } = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        RespectNullableAnnotations = true,
        Converters = { new ReadingLinesConverter(), new VisibleText.Converter() },
        TypeInfoResolver = new DefaultJsonTypeInfoResolver(),
    };
}
