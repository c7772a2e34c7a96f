using System.Text.Json;

namespace Tachyscope.Tests;

/// <summary>What a worker answered, read as any reader of JSON would: the library writes replies and cannot read them.</summary>
internal static class Replies
{
    private static readonly JsonSerializerOptions AsWritten = new() { PropertyNamingPolicy = JsonNamingPolicy.CamelCase };

    public static T FromElement<T>(JsonElement? element) => element!.Value.Deserialize<T>(AsWritten)!;

    public static T FromLine<T>(string line) => JsonSerializer.Deserialize<T>(line, AsWritten)!;
}
