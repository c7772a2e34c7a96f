using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Reads and writes a reading as an array of numbers.</summary>
public sealed class ReadingConverter : JsonConverter<Reading>
{
    /// <inheritdoc/>
    public override Reading Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType != JsonTokenType.StartArray)
        {
            throw new JsonException($"A reading is an array of {ReadingColumns.Names.Count} numbers, not a {reader.TokenType}.");
        }

        var reading = new Reading
        {
            Round = (int)Next(ref reader)!.Value,
            Place = (int)Next(ref reader)!.Value,
            Cell = (int)Next(ref reader)!.Value,
            Calls = Next(ref reader)!.Value,
            ElapsedNanoseconds = Next(ref reader)!.Value,
            ProcessorNanoseconds = Next(ref reader, nullable: true),
            AllocatedBytes = Next(ref reader)!.Value,
            CollectionsGen0 = (int)Next(ref reader)!.Value,
            CollectionsGen1 = (int)Next(ref reader)!.Value,
            CollectionsGen2 = (int)Next(ref reader)!.Value,
            PauseNanoseconds = Next(ref reader)!.Value,
            CompiledMethods = (int)Next(ref reader)!.Value,
            LockContentions = (int)Next(ref reader)!.Value,
            IsCollectionHeld = Next(ref reader, nullable: true) is { } held ? held != 0 : null,
        };
        if (!reader.Read() || reader.TokenType != JsonTokenType.EndArray)
        {
            throw new JsonException($"A reading has {ReadingColumns.Names.Count} numbers; this one has more.");
        }

        return reading.Calls > 0
            ? reading
            : throw new JsonException($"A reading has at least one call, not {reading.Calls}.");
    }

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, Reading value, JsonSerializerOptions options)
    {
        writer.WriteStartArray();
        writer.WriteNumberValue(value.Round);
        writer.WriteNumberValue(value.Place);
        writer.WriteNumberValue(value.Cell);
        writer.WriteNumberValue(value.Calls);
        writer.WriteNumberValue(value.ElapsedNanoseconds);
        Write(writer, value.ProcessorNanoseconds);
        writer.WriteNumberValue(value.AllocatedBytes);
        writer.WriteNumberValue(value.CollectionsGen0);
        writer.WriteNumberValue(value.CollectionsGen1);
        writer.WriteNumberValue(value.CollectionsGen2);
        writer.WriteNumberValue(value.PauseNanoseconds);
        writer.WriteNumberValue(value.CompiledMethods);
        writer.WriteNumberValue(value.LockContentions);
        Write(writer, value.IsCollectionHeld is { } held ? (held ? 1 : 0) : null);
        writer.WriteEndArray();
    }

    private static void Write(Utf8JsonWriter writer, long? number)
    {
        if (number is { } known)
        {
            writer.WriteNumberValue(known);
        }
        else
        {
            writer.WriteNullValue();
        }
    }

    private static long? Next(ref Utf8JsonReader reader, bool nullable = false)
    {
        if (!reader.Read())
        {
            throw new JsonException("A reading is cut short.");
        }

        return reader.TokenType switch
        {
            JsonTokenType.Number => reader.GetInt64(),
            JsonTokenType.Null when nullable => null,
            _ => throw new JsonException($"A reading has {ReadingColumns.Names.Count} numbers; found {reader.TokenType} among them."),
        };
    }
}
