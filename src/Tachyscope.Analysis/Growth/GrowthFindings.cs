namespace Tachyscope.Analysis.Growth;

/// <summary>What was found along one axis of sizes, the others standing still.</summary>
public sealed record GrowthFindings
{
    /// <summary>What the sizes count.</summary>
    public required string Axis { get; init; }

    /// <summary>Where the other axes stand, such as "8 vessels"; null when there are none.</summary>
    public string? Where { get; init; }

    /// <summary>Number of threads; null when calls come from one.</summary>
    public int? Threads { get; init; }

    /// <summary>The sizes, rising.</summary>
    public required IReadOnlyList<int> Sizes { get; init; }

    /// <summary>How each row grows.</summary>
    public required IReadOnlyList<VariantGrowth> Variants { get; init; }

    /// <summary>Where rows cross within the range; rows that are not listed together do not cross as far as can be told.</summary>
    public required IReadOnlyList<Crossover> Crossovers { get; init; }

    /// <summary>Which row to take at which sizes, smallest first; empty where nothing can be told.</summary>
    public required IReadOnlyList<SizeBand> Bands { get; init; }
}
