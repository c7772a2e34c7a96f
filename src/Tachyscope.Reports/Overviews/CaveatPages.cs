namespace Tachyscope.Reports.Overviews;

/// <summary>The caveats there are, read from docs/caveats.md, which travels with the assembly.</summary>
public static class CaveatPages
{
    private const int Columns = 3;

    /// <summary>All of them, in the order of the document.</summary>
    public static IReadOnlyList<CaveatPage> All { get; } = [.. Read()];

    private static IEnumerable<CaveatPage> Read()
    {
        using var stream = typeof(CaveatPages).Assembly.GetManifestResourceStream("caveats.md")!;
        using var reader = new StreamReader(stream);
        foreach (var line in reader.ReadToEnd().Split('\n').Where(line => line.StartsWith("| `", StringComparison.Ordinal)))
        {
            string[] cells = [.. line.Trim().Trim('|').Split(" | ").Select(cell => cell.Trim().Replace("`", "", StringComparison.Ordinal))];
            if (cells.Length == Columns)
            {
                yield return new CaveatPage(cells[0], cells[1], cells[2]);
            }
        }
    }
}
