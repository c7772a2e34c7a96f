using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Writes the names of an enumeration in camel case, and reads nothing else.</summary>
/// <typeparam name="T">The enumeration.</typeparam>
sealed partial class CamelCaseEnumConverter<T>() : JsonStringEnumConverter<T>(JsonNamingPolicy.CamelCase, allowIntegerValues: false)
    where T : struct, Enum;
