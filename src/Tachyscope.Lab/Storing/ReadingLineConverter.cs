using System.Buffers;
using System.Text.Json;
using System.Text.Json.Serialization;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Storing;

/// <summary>Writes every reading on a line of its own, so that a file of a million of them has places one can name.</summary>
internal sealed class ReadingLineConverter : JsonConverter<Reading>
{
    private static readonly ReadingConverter Inner = new();

    [ThreadStatic]
    private static ArrayBufferWriter<byte>? _line;

    public override Reading Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        => Inner.Read(ref reader, typeToConvert, options);

    public override void Write(Utf8JsonWriter writer, Reading value, JsonSerializerOptions options)
    {
        var line = _line ??= new ArrayBufferWriter<byte>(256);
        line.ResetWrittenCount();
        line.Write("\n"u8);
        using (var inner = new Utf8JsonWriter(line))
        {
            Inner.Write(inner, value, options);
        }

        writer.WriteRawValue(line.WrittenSpan, skipInputValidation: true);
    }
}
