using System.Text.RegularExpressions;

namespace Tachyscope.Cli.Histories;

/// <summary>A command line as it may be kept: it can be typed again, and tells nobody where somebody's files lie.</summary>
internal static partial class CommandText
{
    /// <summary>Joins words, quoted where a shell would take them apart, without the folders of paths that begin at a root.</summary>
    public static string Of(IEnumerable<string> words) => string.Join(' ', words.Select(word => Quoted(Root().Replace(word, "$1…/"))));

    private static string Quoted(string word)
        => word.Length > 0
            && word.All(letter => char.IsLetterOrDigit(letter) || "-_./:=,%+@…".Contains(letter, StringComparison.Ordinal)) ? word
            : $"'{word.Replace("'", "'\\''", StringComparison.Ordinal)}'";

    // All but the last name of a path from the root, of a word or of a value in it.
    [GeneratedRegex(@"(^|[=,:])(?:/|[A-Za-z]:[\\/])(?:[^/\\,=]+[\\/])+")]
    private static partial Regex Root();
}
