using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Tests;

/// <summary>Listings to test with: recorded ones, and short ones written by hand.</summary>
internal static class Listings
{
    public static IReadOnlyList<MachineListing> Recorded(string runtime)
        => Read(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Recorded", $"{runtime}.txt")));

    public static IReadOnlyList<MachineListing> Read(string text) => [.. ListingReader.Read(new StringReader(text))];

    /// <summary>A listing of instructions and labels, a line each, as the runtime writes them without the bytes.</summary>
    public static MachineListing Of(string method, params string[] lines) => Assert.Single(Read(Text(method, lines)));

    public static string Text(string method, params string[] lines)
    {
        var blocks = 1;
        return $"""
            ; Assembly listing for method {method} (Tier1)
            ; Emitting BLENDED_CODE for generic X64 on Unix
            ; optimized using Dynamic PGO

            G_M000_IG01:                ;; offset=0x0000
            {string.Join('\n', lines.Select(line => line == "-" ? $"\nG_M000_IG{++blocks:00}:                ;; offset=0x0000" : $"       {line}"))}

            ; Total bytes of code 0

            """;
    }
}
