using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Reads and writes the gauges of a turn as an array of numbers; a run holds thousands of them.</summary>
sealed partial class TurnGaugeConverter : JsonConverter<TurnGauge>
{
    /// <inheritdoc/>
    public override TurnGauge Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType != JsonTokenType.StartArray)
        {
            throw new JsonException($"The gauges of a turn are an array of whole numbers, not a {reader.TokenType}.");
        }

        var (round, place, processor) = (Next(ref reader), Next(ref reader), Next(ref reader));
        var gauges = new List<int>(10);
        while (reader.Read() && reader.TokenType == JsonTokenType.Number)
        {
            gauges.Add(reader.GetInt32());
        }

        // Two for each reading, so that one more is that of calls.
        var calls = 0;
        if (gauges.Count % 2 == 1)
        {
            calls = gauges[^1];
            gauges.RemoveAt(gauges.Count - 1);
        }

        return reader.TokenType == JsonTokenType.EndArray
            ? new TurnGauge { Round = round, Place = place, Processor = processor, Gauges = gauges, CallGauge = calls }
            : throw new JsonException("The gauges of a turn are whole numbers: round, place and processor, then two for each reading.");
    }

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, TurnGauge value, JsonSerializerOptions options)
    {
        ArgumentNullException.ThrowIfNull(writer);
        ArgumentNullException.ThrowIfNull(value);
        writer.WriteStartArray();
        writer.WriteNumberValue(value.Round);
        writer.WriteNumberValue(value.Place);
        writer.WriteNumberValue(value.Processor);
        foreach (var gauge in value.Gauges)
        {
            writer.WriteNumberValue(gauge);
        }

        if (value.CallGauge > 0)
        {
            writer.WriteNumberValue(value.CallGauge);
        }

        writer.WriteEndArray();
    }

    private static int Next(ref Utf8JsonReader reader)
        => reader.Read() && reader.TokenType == JsonTokenType.Number ? reader.GetInt32()
            : throw new JsonException($"The gauges of a turn begin with round, place and processor; found {reader.TokenType} among them.");
}
