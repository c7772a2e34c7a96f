using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization.Metadata;

namespace Tachyscope.Protocol;

/// <summary>Reads and writes the messages of the worker protocol, without reflection.</summary>
static partial class ProtocolText
{
    /// <summary>UTF-8 without a byte order mark, in which both sides write.</summary>
    public static Encoding Encoding { get; } = new UTF8Encoding(encoderShouldEmitUTF8Identifier: false);

#if STUDY_SIDE
    /// <summary>Parameters or a result as JSON, written out.</summary>
    /// <typeparam name="T">A type of this namespace.</typeparam>
    /// <param name="value">The parameters or the result.</param>
    public static byte[] ToJson<T>(T value) => JsonSerializer.SerializeToUtf8Bytes(value, TypeOf<T>());

    /// <summary>Parameters or a result read from JSON as it was written.</summary>
    /// <typeparam name="T">A type of this namespace.</typeparam>
    /// <param name="json">The JSON; empty when there was none.</param>
    /// <exception cref="JsonException">The JSON holds no such value.</exception>
    public static T FromJson<T>(ReadOnlySpan<byte> json)
        => !json.IsEmpty && JsonSerializer.Deserialize(json, TypeOf<T>()) is { } value
            ? value
            : throw new JsonException($"A {typeof(T).Name} was expected and there is none.");
#else
    /// <summary>One message as a line of JSON, its end included.</summary>
    /// <typeparam name="T">A type of this namespace.</typeparam>
    /// <param name="message">The message.</param>
    public static byte[] ToLine<T>(T message)
        => [.. JsonSerializer.SerializeToUtf8Bytes(message, TypeOf<T>()), (byte)'\n'];

    /// <summary>One message read from a line of JSON.</summary>
    /// <typeparam name="T">A type of this namespace.</typeparam>
    /// <param name="line">The line.</param>
    /// <exception cref="JsonException">The line holds no such message.</exception>
    public static T FromLine<T>(string line)
        => JsonSerializer.Deserialize(line, TypeOf<T>()) ?? throw new JsonException("The line holds null.");

    /// <summary>Parameters or a result as JSON.</summary>
    /// <typeparam name="T">A type of this namespace.</typeparam>
    /// <param name="value">The parameters or the result.</param>
    public static JsonElement ToElement<T>(T value) => JsonSerializer.SerializeToElement(value, TypeOf<T>());

    /// <summary>Parameters or a result read from JSON.</summary>
    /// <typeparam name="T">A type of this namespace.</typeparam>
    /// <param name="element">The JSON; null when there was none.</param>
    /// <exception cref="JsonException">The JSON holds no such value.</exception>
    public static T FromElement<T>(JsonElement? element)
        => element is { } present && present.Deserialize(TypeOf<T>()) is { } value
            ? value
            : throw new JsonException($"A {typeof(T).Name} was expected and there is none.");
#endif

    /// <summary>Whether a terminal shows a character and does nothing else with it; a name holds no others.</summary>
    /// <param name="rune">The character.</param>
    public static bool IsVisible(Rune rune) => Rune.GetUnicodeCategory(rune) switch
    {
        UnicodeCategory.Control or UnicodeCategory.LineSeparator or UnicodeCategory.ParagraphSeparator => false,
        // Joiners are part of how some scripts, and many pictures, are written.
        UnicodeCategory.Format => rune.Value is 0x200C or 0x200D,
        _ => true,
    };

    private static JsonTypeInfo<T> TypeOf<T>() => (JsonTypeInfo<T>)ProtocolJson.Default.GetTypeInfo(typeof(T))!;
}
