using System.Text.Json;

namespace Tachyscope.Protocol;

/// <summary>An input on its way to a guest: by value or, where it is large, by a file.</summary>
sealed partial record GivenInput
{
    /// <summary>Index of the input.</summary>
    public required int Input { get; init; }

    /// <summary>The input; absent where a file holds it.</summary>
    public JsonElement? Value { get; init; }

    /// <summary>Path of a file that holds it as JSON; null where it is here.</summary>
    public string? File { get; init; }
}
