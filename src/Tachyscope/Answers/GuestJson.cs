using System.Text.Json;
using System.Text.Json.Serialization;

namespace Tachyscope.Answers;

/// <summary>How inputs and answers travel to guests and back.</summary>
internal static class GuestJson
{
    public static JsonSerializerOptions Options { get; } = new(JsonSerializerDefaults.Web)
    {
        NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals,
        IncludeFields = true,
    };
}
