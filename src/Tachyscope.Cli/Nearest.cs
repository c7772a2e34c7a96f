namespace Tachyscope.Cli;

/// <summary>The word that was probably meant.</summary>
internal static class Nearest
{
    /// <summary>The nearest of some words to one that is none of them; null where none is near.</summary>
    public static string? To(string? word, IEnumerable<string> known)
        => word is null ? null : known.Select(one => (Word: one, Steps: Steps(word, one)))
            .Where(one => one.Steps <= Math.Max(1, word.TrimStart('-').Length / 3)
                || (word.Length > 2 && one.Word.StartsWith(word, StringComparison.Ordinal)))
            .OrderBy(one => one.Steps).Select(one => one.Word).FirstOrDefault();

    // Letters changed, missing or too many: Levenshtein, "Binary codes capable of correcting deletions, insertions, and reversals", 1966;
    // two that are swapped count as one.
    private static int Steps(string one, string other)
    {
        var rows = new int[one.Length + 1, other.Length + 1];
        for (var i = 0; i <= one.Length; i++)
        {
            for (var j = 0; j <= other.Length; j++)
            {
                rows[i, j] = i == 0 || j == 0
                    ? i + j
                    : Math.Min(Math.Min(rows[i - 1, j], rows[i, j - 1]) + 1, rows[i - 1, j - 1] + (one[i - 1] == other[j - 1] ? 0 : 1));
                if (i > 1 && j > 1 && one[i - 1] == other[j - 2] && one[i - 2] == other[j - 1])
                {
                    rows[i, j] = Math.Min(rows[i, j], rows[i - 2, j - 2] + 1);
                }
            }
        }

        return rows[one.Length, other.Length];
    }
}
