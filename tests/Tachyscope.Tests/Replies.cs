using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Tests;

/// <summary>
/// What a worker is asked and answers, written and read as any serialiser would: the library reads requests and writes replies by hand.
/// </summary>
internal static class Replies
{
    private static readonly JsonSerializerOptions AsWritten = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase, DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    public static T FromElement<T>(JsonElement? element) => element!.Value.Deserialize<T>(AsWritten)!;

    public static JsonElement ToElement<T>(T value) => JsonSerializer.SerializeToElement(value, AsWritten);

    public static string ToLine<T>(T value) => JsonSerializer.Serialize(value, AsWritten);

    public static T FromLine<T>(string line) => JsonSerializer.Deserialize<T>(line, AsWritten)!;
}
