using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Reads and writes a reading as an array of numbers.</summary>
sealed partial class ReadingConverter : JsonConverter<Reading>
{
    /// <inheritdoc/>
    public override Reading Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType != JsonTokenType.StartArray)
        {
            throw new JsonException($"A reading is an array of up to {ReadingColumns.Names.Count} numbers, not a {reader.TokenType}.");
        }

        var isEnded = false;
        var reading = new Reading
        {
            Round = (int)Next(ref reader)!.Value,
            Place = (int)Next(ref reader)!.Value,
            Cell = (int)Next(ref reader)!.Value,
            Calls = Next(ref reader)!.Value,
            ElapsedNanoseconds = Next(ref reader)!.Value,
            ProcessorNanoseconds = Next(ref reader, nullable: true),
            AllocatedBytes = Rest(ref reader, ref isEnded, nullable: true) ?? 0,
            CollectionsGen0 = (int)(Rest(ref reader, ref isEnded) ?? 0),
            CollectionsGen1 = (int)(Rest(ref reader, ref isEnded) ?? 0),
            CollectionsGen2 = (int)(Rest(ref reader, ref isEnded) ?? 0),
            PauseNanoseconds = Rest(ref reader, ref isEnded) ?? 0,
            CompiledMethods = (int)(Rest(ref reader, ref isEnded) ?? 0),
            LockContentions = (int)(Rest(ref reader, ref isEnded) ?? 0),
            IsCollectionHeld = Rest(ref reader, ref isEnded, nullable: true) is { } held ? held != 0 : null,
        };
        if (!isEnded && (!reader.Read() || reader.TokenType != JsonTokenType.EndArray))
        {
            throw new JsonException($"A reading has at most {ReadingColumns.Names.Count} numbers; this one has more.");
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
        ReadOnlySpan<long> counts =
        [
            value.AllocatedBytes, value.CollectionsGen0, value.CollectionsGen1, value.CollectionsGen2, value.PauseNanoseconds,
                value.CompiledMethods,
            value.LockContentions,
        ];
        // Most have nothing to tell from here on.
        var told = value.IsCollectionHeld is null ? counts.LastIndexOfAnyExcept(0) + 1 : counts.Length;
        foreach (var count in counts[..told])
        {
            writer.WriteNumberValue(count);
        }

        if (value.IsCollectionHeld is { } held)
        {
            writer.WriteNumberValue(held ? 1 : 0);
        }

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

    // Nothing, as often as it is asked for, once the array has ended.
    private static long? Rest(ref Utf8JsonReader reader, ref bool isEnded, bool nullable = false)
    {
        if (isEnded || !reader.Read())
        {
            return isEnded ? null : throw new JsonException("A reading is cut short.");
        }

        isEnded = reader.TokenType == JsonTokenType.EndArray;
        return isEnded ? null : Number(ref reader, nullable);
    }

    private static long? Next(ref Utf8JsonReader reader, bool nullable = false)
    {
        if (!reader.Read())
        {
            throw new JsonException("A reading is cut short.");
        }

        return Number(ref reader, nullable);
    }

    private static long? Number(ref Utf8JsonReader reader, bool nullable) => reader.TokenType switch
    {
        JsonTokenType.Number => reader.GetInt64(),
        JsonTokenType.Null when nullable => null,
        _ => throw new JsonException($"A reading has up to {ReadingColumns.Names.Count} numbers; found {reader.TokenType} among them."),
    };
}
