using System.Globalization;
using System.Text;
using System.Text.Json;

namespace Tachyscope.Storing;

/// <summary>Looks into a document that could not be taken as a whole: members at its top, and the lines of paths.</summary>
internal sealed class JsonPlace
{
    private static readonly byte[] Mark = [0xEF, 0xBB, 0xBF];

    private readonly Dictionary<string, string?> _members = [];

    private JsonPlace(byte[] json, string? path)
    {
        var text = json.AsSpan(json.AsSpan().StartsWith(Mark) ? Mark.Length : 0);
        var reader = new Utf8JsonReader(text, isFinalBlock: false, default);
        var segments = new List<string>();
        var counts = new List<int>();
        try
        {
            while (reader.Read())
            {
                IsObject |= reader.CurrentDepth == 0 && reader.TokenType == JsonTokenType.StartObject;
                Follow(ref reader, segments, counts);
                if (path is not null && Line is null
                    && reader.TokenType is not (JsonTokenType.PropertyName or JsonTokenType.EndArray or JsonTokenType.EndObject)
                    && string.Concat(segments) == path[1..])
                {
                    Line = LineAt(text, (int)reader.TokenStartIndex);
                }
            }

            IsCutShort = reader.CurrentDepth > 0 || reader.BytesConsumed == 0;
        }
        catch (JsonException)
        {
            // Whoever asks has an error already; what was read until here stands.
        }

        LastLine = LineAt(text, (int)Math.Min(reader.BytesConsumed, text.Length));
        LastPath = $"${string.Concat(segments)}";
    }

    /// <summary>Whether the document begins as an object.</summary>
    public bool IsObject { get; }

    /// <summary>Whether it is sound as far as it goes, and ends before it is complete.</summary>
    public bool IsCutShort { get; }

    /// <summary>Line of the path asked for; null when it is not there.</summary>
    public int? Line { get; }

    /// <summary>Line up to which it could be read.</summary>
    public int LastLine { get; }

    /// <summary>Path up to which it could be read.</summary>
    public string LastPath { get; }

    /// <summary>Looks through a document.</summary>
    /// <param name="json">The document.</param>
    /// <param name="path">A path to find, such as "$.studies[0].sittings[2]"; null for none.</param>
    public static JsonPlace In(byte[] json, string? path = null) => new(json, path);

    /// <summary>A word or number at the top of the document; null when it is not there.</summary>
    public string? Member(string name) => _members.GetValueOrDefault(name);

    private static int LineAt(ReadOnlySpan<byte> text, int index) => text[..index].Count((byte)'\n') + 1;

    // One segment for every depth: the property, or the place in an array.
    private void Follow(ref Utf8JsonReader reader, List<string> segments, List<int> counts)
    {
        switch (reader.TokenType)
        {
            case JsonTokenType.PropertyName:
                Keep(segments, reader.CurrentDepth - 1, $".{reader.GetString()}");
                return;
            case JsonTokenType.EndArray or JsonTokenType.EndObject:
                Cut(segments, reader.CurrentDepth);
                return;
        }

        if (counts.Count > reader.CurrentDepth && counts[reader.CurrentDepth] >= 0)
        {
            Keep(segments, reader.CurrentDepth - 1, string.Create(CultureInfo.InvariantCulture, $"[{counts[reader.CurrentDepth]++}]"));
        }

        if (reader.TokenType is JsonTokenType.StartArray or JsonTokenType.StartObject)
        {
            while (counts.Count <= reader.CurrentDepth + 1)
            {
                counts.Add(-1);
            }

            counts[reader.CurrentDepth + 1] = reader.TokenType == JsonTokenType.StartArray ? 0 : -1;
        }
        else if (reader.CurrentDepth == 1 && segments.Count == 1)
        {
            _members.TryAdd(segments[0][1..], Encoding.UTF8.GetString(reader.ValueSpan));
        }
    }

    private static void Keep(List<string> segments, int depth, string segment)
    {
        Cut(segments, depth);
        segments.Add(segment);
    }

    private static void Cut(List<string> segments, int depth)
        => segments.RemoveRange(Math.Min(depth, segments.Count), segments.Count - Math.Min(depth, segments.Count));
}
