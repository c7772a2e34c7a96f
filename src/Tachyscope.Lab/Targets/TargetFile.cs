using System.Globalization;
using System.Text.Json;

namespace Tachyscope.Lab.Targets;

/// <summary>Reads named targets from the tachyscope.json beside a project.</summary>
public static class TargetFile
{
    /// <summary>Name of the file.</summary>
    public const string Name = "tachyscope.json";

    private static readonly JsonSerializerOptions Options = new() { PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        ReadCommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true };

    /// <summary>The recipes it names; none when there is no such file.</summary>
    /// <param name="folder">Folder of the project.</param>
    /// <exception cref="InvalidDataException">The file does not say what it should; the message says where, and what it should
    /// be.</exception>
    public static IReadOnlyDictionary<string, string> Read(string folder)
    {
        var path = Path.Combine(folder, Name);
        if (!File.Exists(path))
        {
            return new Dictionary<string, string>();
        }

        try
        {
            using var stream = File.OpenRead(path);
            var content = JsonSerializer.Deserialize<Content>(stream, Options);
            // It may say other things only.
            return content?.Targets ?? (content?.Gate is null ? null
                : new Dictionary<string,
                string>()) ?? throw new InvalidDataException($"{path}: it names no targets; write {{ \"targets\": {{ \"old\": "
                    + $"\"runtime=net8.0\" }} }}.");
        }
        catch (JsonException exception)
        {
            throw new InvalidDataException(
                string.Create(CultureInfo.InvariantCulture, $"{path}, line {(exception.LineNumber ?? 0) + 1}, {exception.Path}: a name "
                    + $"or recipe cannot be read; write {{ \"targets\": {{ \"old\": \"runtime=net8.0\" }} }}."), exception);
        }
    }

    private sealed record Content(Dictionary<string, string>? Targets, JsonElement? Gate);
}
