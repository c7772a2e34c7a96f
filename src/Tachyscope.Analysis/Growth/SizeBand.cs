using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Growth;

/// <summary>A stretch of sizes in which no row is faster than one.</summary>
public sealed record SizeBand
{
    /// <summary>Index of the row to take.</summary>
    public required int Row { get; init; }

    /// <summary>Rows that nothing separates from it at any size of the band.</summary>
    public required IReadOnlyList<int> Ties { get; init; }

    /// <summary>Whether it is faster than every other row at every size of the band.</summary>
    public bool IsFastest { get; init; }

    /// <summary>Smallest size measured in it.</summary>
    public required int FirstSize { get; init; }

    /// <summary>Largest size measured in it.</summary>
    public required int LastSize { get; init; }

    /// <summary>Where the next band's row overtakes it; null in the last band, and where the place is not known.</summary>
    public Interval? Until { get; init; }
}
