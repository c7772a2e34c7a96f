using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Protocol;

/// <summary>Reads and writes a stretch of warming as an array of six numbers.</summary>
sealed partial class WarmSliceConverter : JsonConverter<WarmSlice>
{
    /// <inheritdoc/>
    public override WarmSlice Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType != JsonTokenType.StartArray)
        {
            throw new JsonException($"A stretch of warming is an array of six numbers, not a {reader.TokenType}.");
        }

        var slice = new WarmSlice(
            (int)Next(ref reader), Next(ref reader), (long)Next(ref reader), Next(ref reader), Next(ref reader), NextOrNone(ref reader));
        if (!reader.Read() || reader.TokenType != JsonTokenType.EndArray)
        {
            throw new JsonException("A stretch of warming has six numbers; this one has more.");
        }

        return slice.Calls > 0 && slice.Nanoseconds >= 0 ? slice
            : throw new JsonException(
                $"A stretch of warming has at least one call and a time of 0 or more, not {slice.Calls} and {slice.Nanoseconds}.");
    }

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, WarmSlice value, JsonSerializerOptions options)
    {
        ArgumentNullException.ThrowIfNull(writer);
        ArgumentNullException.ThrowIfNull(value);
        writer.WriteStartArray();
        writer.WriteNumberValue(value.Cell);
        writer.WriteNumberValue(value.Milliseconds);
        writer.WriteNumberValue(value.Calls);
        writer.WriteNumberValue(value.Nanoseconds);
        writer.WriteNumberValue(value.BeatNanoseconds);
        if (value.AllocatedBytes is { } bytes)
        {
            writer.WriteNumberValue(bytes);
        }
        else
        {
            writer.WriteNullValue();
        }

        writer.WriteEndArray();
    }

    private static double Next(ref Utf8JsonReader reader)
        => reader.Read() && reader.TokenType == JsonTokenType.Number ? reader.GetDouble()
            : throw new JsonException($"A stretch of warming has six numbers; found {reader.TokenType} among them.");

    private static long? NextOrNone(ref Utf8JsonReader reader)
        => !reader.Read() ? throw new JsonException("A stretch of warming is cut short.")
            : reader.TokenType == JsonTokenType.Null ? null
            : reader.TokenType == JsonTokenType.Number ? (long)reader.GetDouble()
            : throw new JsonException($"A stretch of warming ends with the bytes allocated or null, not {reader.TokenType}.");
}
