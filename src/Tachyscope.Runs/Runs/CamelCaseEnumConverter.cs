using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Writes the names of an enumeration in camel case, and reads nothing else.</summary>
/// <typeparam name="T">The enumeration.</typeparam>
/// <remarks>Of our own, as the serialiser's compiles a dozen and a half methods for each enumeration whenever a program starts.</remarks>
sealed partial class CamelCaseEnumConverter<T> : JsonConverter<T>
    where T : struct, Enum
{
    private static readonly T[] Values = Enum.GetValues<T>();
    private static readonly string[] Names = Array.ConvertAll(Enum.GetNames<T>(), JsonNamingPolicy.CamelCase.ConvertName);

    /// <inheritdoc/>
    public override T Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType == JsonTokenType.String)
        {
            for (var index = 0; index < Names.Length; index++)
            {
                if (reader.ValueTextEquals(Names[index]))
                {
                    return Values[index];
                }
            }
        }

        // The serialiser says of which type it is, and where it stands.
        throw new JsonException();
    }

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, T value, JsonSerializerOptions options)
        => writer.WriteStringValue(Array.IndexOf(Values, value) is >= 0 and var index ? Names[index] : throw new JsonException());
}
