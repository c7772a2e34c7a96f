using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Growth;

/// <summary>How one row grows along an axis.</summary>
public sealed record VariantGrowth
{
    /// <summary>Index of the row.</summary>
    public required int Row { get; init; }

    /// <summary>Its time per call at each size it has figures at, in nanoseconds.</summary>
    public required IReadOnlyList<(int Size, Interval NanosecondsPerCall)> Points { get; init; }

    /// <summary>
    /// The power of the size it grows with over the range: the median slope between any two sizes in logarithms, of each
    /// sitting, with the t interval over sittings.
    /// </summary>
    public required Interval Exponent { get; init; }

    /// <summary>The simplest law that fits; null with too few sizes to tell.</summary>
    public required FittedLaw? Law { get; init; }

    /// <summary>Less simple laws that fit as well, which these sizes cannot rule out.</summary>
    public IReadOnlyList<GrowthLaw> AlsoFitting { get; init; } = [];
}
