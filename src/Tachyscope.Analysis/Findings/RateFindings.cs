using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Findings;

/// <summary>How much gets done per second, by what the study declares.</summary>
public sealed record RateFindings
{
    /// <summary>What is counted: "items", "bytes" or "operations".</summary>
    public required string Quantity { get; init; }

    /// <summary>How many per second.</summary>
    public required Interval PerSecond { get; init; }

    /// <summary>Share of what one processor of this machine can do; null when its limits are not known.</summary>
    public Interval? LimitShare { get; init; }

    /// <summary>The limit it is a share of, such as "L2"; null when there is none.</summary>
    public string? Limit { get; init; }
}
