using System.Buffers;
using System.Text.Json;
using System.Text.Json.Serialization;
using Tachyscope.Runs;

namespace Tachyscope.Storing;

/// <summary>
/// Reads and writes the readings of a sitting: each on a line of its own, so that a file of a million of them has places one can name, and
/// all in one go, since a run has hundreds of thousands.
/// </summary>
internal sealed class ReadingLinesConverter : JsonConverter<IReadOnlyList<Reading>>
{
    /// <summary>Name of what an exception says further of the reading that is at fault: its index.</summary>
    public const string Index = "index";

    private static readonly ReadingConverter Inner = new();

    [ThreadStatic]
    private static ArrayBufferWriter<byte>? _line;

    // Where they are gathered until their number is known: a list grown anew for every sitting goes through fresh memory twice.
    [ThreadStatic]
    private static List<Reading>? _read;

    public override IReadOnlyList<Reading> Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType != JsonTokenType.StartArray)
        {
            throw new JsonException($"Readings are an array, not a {reader.TokenType}.");
        }

        var readings = _read ??= new List<Reading>();
        readings.Clear();
        try
        {
            while (reader.Read() && reader.TokenType != JsonTokenType.EndArray)
            {
                readings.Add(Inner.Read(ref reader, typeof(Reading), options));
            }

            return readings.ToArray();
        }
        catch (JsonException exception)
        {
            // The serialiser, which adds the path, knows of no parts of what is read in one go.
            exception.Data[Index] = readings.Count;
            throw;
        }
    }

    public override void Write(Utf8JsonWriter writer, IReadOnlyList<Reading> value, JsonSerializerOptions options)
    {
        writer.WriteStartArray();
        foreach (var reading in value)
        {
            var line = _line ??= new ArrayBufferWriter<byte>(256);
            line.ResetWrittenCount();
            line.Write("\n"u8);
            using (var inner = new Utf8JsonWriter(line))
            {
                Inner.Write(inner, reading, options);
            }

            writer.WriteRawValue(line.WrittenSpan, skipInputValidation: true);
        }

        writer.WriteEndArray();
    }
}
