namespace Tachyscope.Reports.Studies;

/// <summary>The blocks by the words they are asked for with.</summary>
public static class Blocks
{
    /// <summary>All of them, by word, in the order of a report.</summary>
    public static IReadOnlyDictionary<string, Block> ByWord { get; } =
        Enum.GetValues<Block>().ToDictionary(block => block.ToString().ToLowerInvariant(), StringComparer.Ordinal);

    /// <summary>The words, in the order of a report.</summary>
    public static IReadOnlyList<string> Words { get; } = [.. Enum.GetValues<Block>().Select(block => block.ToString().ToLowerInvariant())];

    /// <summary>All blocks.</summary>
    public static IReadOnlySet<Block> All { get; } = new HashSet<Block>(Enum.GetValues<Block>());
}
