using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Reads and writes a point of a warm-up curve as an array of five numbers; a run holds tens of thousands of them.</summary>
sealed partial class WarmUpPointConverter : JsonConverter<WarmUpPoint>
{
    /// <inheritdoc/>
    public override WarmUpPoint Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType == JsonTokenType.StartObject)
        {
            return OfVersionOne(ref reader);
        }

        if (reader.TokenType != JsonTokenType.StartArray)
        {
            throw new JsonException($"A point of a curve is an array of five numbers, not a {reader.TokenType}.");
        }

        var point = new WarmUpPoint
        {
            Calls = (long)Next(ref reader),
            Milliseconds = Next(ref reader),
            NanosecondsPerCall = Next(ref reader),
            AllocatedBytesPerCall = Next(ref reader),
            CompiledMethods = (int)Next(ref reader),
        };
        return reader.Read() && reader.TokenType == JsonTokenType.EndArray ? point
            : throw new JsonException("A point of a curve has five numbers; this one has more.");
    }

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, WarmUpPoint value, JsonSerializerOptions options)
    {
        ArgumentNullException.ThrowIfNull(writer);
        ArgumentNullException.ThrowIfNull(value);
        writer.WriteStartArray();
        writer.WriteNumberValue(value.Calls);
        writer.WriteNumberValue(value.Milliseconds);
        writer.WriteNumberValue(value.NanosecondsPerCall);
        writer.WriteNumberValue(value.AllocatedBytesPerCall);
        writer.WriteNumberValue(value.CompiledMethods);
        writer.WriteEndArray();
    }

    // With a name for each number.
    private static WarmUpPoint OfVersionOne(ref Utf8JsonReader reader)
    {
        var numbers = new Dictionary<string, double>(StringComparer.Ordinal);
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            var name = reader.GetString()!;
            numbers[name] = Next(ref reader);
        }

        return new WarmUpPoint
        {
            Calls = (long)numbers.GetValueOrDefault("calls"),
            Milliseconds = numbers.GetValueOrDefault("milliseconds"),
            NanosecondsPerCall = numbers.GetValueOrDefault("nanosecondsPerCall"),
            AllocatedBytesPerCall = numbers.GetValueOrDefault("allocatedBytesPerCall"),
            CompiledMethods = (int)numbers.GetValueOrDefault("compiledMethods"),
        };
    }

    private static double Next(ref Utf8JsonReader reader)
        => reader.Read() && reader.TokenType == JsonTokenType.Number ? reader.GetDouble()
            : throw new JsonException($"A point of a curve has five numbers; found {reader.TokenType} among them.");
}
