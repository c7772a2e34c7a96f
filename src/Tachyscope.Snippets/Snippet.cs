using System.Text.RegularExpressions;

namespace Tachyscope.Snippets;

/// <summary>A piece of C# as it was received.</summary>
/// <param name="Label">What it is called in tables; for a variant unique among them.</param>
/// <param name="Code">An expression, or statements.</param>
public sealed partial record Snippet(string Label, string Code)
{
    private const int LongestLabel = 48;

    /// <summary>Reads "label: CODE", or CODE alone, which is then its own label.</summary>
    /// <param name="text">What was received.</param>
    /// <exception cref="ArgumentNullException"><paramref name="text"/> is null.</exception>
    public static Snippet Of(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var labelled = Labelled().Match(text);
        return labelled.Success
            ? new Snippet(labelled.Groups["label"].Value.Trim(), labelled.Groups["code"].Value.Trim())
            : new Snippet(Shortened(new CodeParts(text).Bare), text.Trim());
    }

    /// <summary>Labels that differ: those that are there twice get a number.</summary>
    /// <param name="snippets">The snippets.</param>
    public static IReadOnlyList<Snippet> Apart(IEnumerable<Snippet> snippets)
    {
        ArgumentNullException.ThrowIfNull(snippets);
        var taken = new HashSet<string>(StringComparer.Ordinal);
        return [.. snippets.Select(snippet =>
        {
            var label = snippet.Label;
            for (var number = 2; !taken.Add(label); number++)
            {
                label = $"{snippet.Label} ({number})";
            }

            return snippet with { Label = label };
        })];
    }

    private static string Shortened(string code)
    {
        var line = Blanks().Replace(code.Trim(), " ");
        return line.Length <= LongestLabel ? line : $"{line[..(LongestLabel - 1)]}…";
    }

    // Words before a colon and a blank. In C# so begins only a jump label, which no snippet needs.
    [GeneratedRegex(@"^\s*(?<label>[\p{L}\p{N}_][\p{L}\p{N}_ .,+\-]*?)\s*:\s+(?<code>\S.*)$", RegexOptions.Singleline)]
    private static partial Regex Labelled();

    [GeneratedRegex(@"\s+")]
    private static partial Regex Blanks();
}
