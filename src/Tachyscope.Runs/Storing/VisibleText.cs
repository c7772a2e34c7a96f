using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using Tachyscope.Protocol;

namespace Tachyscope.Storing;

/// <summary>
/// Text from files and workers with nothing in it that a terminal would obey: what could clear a screen, turn the direction of
/// writing or begin a line of its own is shown as a sign instead.
/// </summary>
/// <remarks>Done where text comes in, so that whoever shows it need not think of it, and widths are those of what is shown.</remarks>
public static class VisibleText
{
    private const int ControlPictures = 0x2400;
    private const char PictureOfDelete = '␡';

    /// <summary>A text as it may be shown.</summary>
    /// <param name="text">The text.</param>
    /// <exception cref="ArgumentNullException"><paramref name="text"/> is null.</exception>
    public static string Of(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return text.EnumerateRunes().All(ProtocolText.IsVisible) ? text : string.Concat(text.EnumerateRunes().Select(Of));
    }

    private static string Of(Rune rune)
        => ProtocolText.IsVisible(rune) ? rune.ToString()
            : rune.Value == '\t' ? "    "
            : rune.Value < ' ' ? ((char)(ControlPictures + rune.Value)).ToString()
            : rune.Value == 0x7F ? PictureOfDelete.ToString()
            : string.Create(CultureInfo.InvariantCulture, $"‹U+{rune.Value:X4}›");

    /// <summary>Reads every text of a document so.</summary>
    internal sealed class Converter : JsonConverter<string>
    {
        public override string? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
            => Of(reader.GetString()!);

        public override void Write(Utf8JsonWriter writer, string value, JsonSerializerOptions options) => writer.WriteStringValue(value);

        public override string ReadAsPropertyName(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
            => Of(reader.GetString()!);

        public override void WriteAsPropertyName(Utf8JsonWriter writer, string value, JsonSerializerOptions options)
            => writer.WritePropertyName(value);
    }
}
