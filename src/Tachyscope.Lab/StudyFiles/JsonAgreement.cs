using System.Text.Json;

namespace Tachyscope.Lab.StudyFiles;

/// <summary>Whether two answers agree as JSON: letter by letter, element by element, member by member, numbers within a
/// tolerance.</summary>
internal static class JsonAgreement
{
    private const int LettersShown = 48;

    /// <summary>Where and how an answer differs.</summary>
    /// <param name="expected">The reference's answer.</param>
    /// <param name="given">The answer.</param>
    /// <param name="tolerance">Largest difference of two numbers, as a share of the larger of 1 and the two magnitudes.</param>
    /// <param name="place">Where in the answers these are, in words; empty for all of them.</param>
    /// <returns>What is given and what is expected, in a few words; null when they agree.</returns>
    public static (string Given, string Expected)? Difference(JsonElement expected, JsonElement given, double tolerance, string place = "")
        => (expected.ValueKind, given.ValueKind) switch
        {
            (JsonValueKind.Number, JsonValueKind.Number) => AreClose(expected, given, tolerance) ? null : Told(expected, given, place),
            (JsonValueKind.Array, JsonValueKind.Array)
                => OfArrays([.. expected.EnumerateArray()], [.. given.EnumerateArray()], tolerance, place),
            (JsonValueKind.Object, JsonValueKind.Object) => OfObjects(expected, given, tolerance, place),
            _ => JsonElement.DeepEquals(expected, given) ? null : Told(expected, given, place),
        };

    // Numbers beyond a double's are compared as they are written.
    private static bool AreClose(JsonElement expected, JsonElement given, double tolerance)
    {
        if (JsonElement.DeepEquals(expected, given))
        {
            return true;
        }

        var (one, other) = (expected.GetDouble(), given.GetDouble());
        return double.IsFinite(one) && double.IsFinite(other)
            && (one == other || Math.Abs(one - other) <= tolerance * Math.Max(1, Math.Max(Math.Abs(one), Math.Abs(other))));
    }

    private static (string Given, string Expected)? OfArrays(JsonElement[] expected, JsonElement[] given, double tolerance, string place)
        => expected.Length != given.Length ? ($"{given.Length} elements{place}", $"{expected.Length}")
            : expected.Zip(given).Select((pair, index) => Difference(pair.First, pair.Second, tolerance, $"{place} at index {index}"))
                .FirstOrDefault(difference => difference is not null);

    private static (string Given, string Expected)? OfObjects(JsonElement expected, JsonElement given, double tolerance, string place)
    {
        foreach (var member in expected.EnumerateObject())
        {
            if (!given.TryGetProperty(member.Name, out var own))
            {
                return ($"nothing{place} as {member.Name}", Shortened(member.Value));
            }

            if (Difference(member.Value, own, tolerance, $"{place} as {member.Name}") is { } difference)
            {
                return difference;
            }
        }

        return given.EnumerateObject().Count() == expected.EnumerateObject().Count() ? null : Told(expected, given, place);
    }

    private static (string Given, string Expected) Told(JsonElement expected, JsonElement given, string place)
        => ($"{Shortened(given)}{place}", Shortened(expected));

    private static string Shortened(JsonElement value)
        => value.GetRawText() is var text && text.Length <= LettersShown ? text : $"{text[..(LettersShown - 1)]}…";
}
