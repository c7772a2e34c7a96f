using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Growth;

/// <summary>
/// A stretch of sizes in which one row is the best, or loses little against it by the estimates and is not shown to lose.
/// </summary>
public sealed record SizeBand
{
    /// <summary>Index of the row to take.</summary>
    public required int Row { get; init; }

    /// <summary>Other rows of which the same holds at every size of the band.</summary>
    public required IReadOnlyList<int> Ties { get; init; }

    /// <summary>Whether it is faster than every other row at every size of the band.</summary>
    public bool IsFastest { get; init; }

    /// <summary>What taking it costs at most at any size of the band.</summary>
    public required Loss Loss { get; init; }

    /// <summary>Smallest size measured in it.</summary>
    public required int FirstSize { get; init; }

    /// <summary>Largest size measured in it.</summary>
    public required int LastSize { get; init; }

    /// <summary>Where the next band's row overtakes it; null in the last band, and where the place is not known.</summary>
    public Interval? Until { get; init; }
}
