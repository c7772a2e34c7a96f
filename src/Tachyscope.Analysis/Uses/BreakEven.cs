using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Uses;

/// <summary>After how many uses what is dearer to prepare has paid, against another row.</summary>
public sealed record BreakEven
{
    /// <summary>Index of the row that is used after being prepared.</summary>
    public required int Row { get; init; }

    /// <summary>Index of the row it is held against, with what that prepares, if anything.</summary>
    public required int Other { get; init; }

    /// <summary>Whether it pays.</summary>
    public required BreakEvenAnswer Answer { get; init; }

    /// <summary>Uses after which it has; the lower end alone may be known, when it does not pay before that and perhaps never.</summary>
    public required Interval Uses { get; init; }
}
