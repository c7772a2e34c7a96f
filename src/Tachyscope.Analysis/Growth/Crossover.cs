using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Growth;

/// <summary>Where one row overtakes another along an axis.</summary>
public sealed record Crossover
{
    /// <summary>Index of the row that is faster below.</summary>
    public required int Below { get; init; }

    /// <summary>Index of the row that is faster above.</summary>
    public required int Above { get; init; }

    /// <summary>The size at which they take equally long.</summary>
    /// <remarks>
    /// All sizes at which the t interval over sittings of their log ratio holds 0, between sizes measured once along straight
    /// lines in logarithms and once along straight lines: what lies between is told no finer than the two agree.
    /// </remarks>
    public required Interval Size { get; init; }

    /// <summary>The largest size measured at which the first is faster.</summary>
    public required int LastBelow { get; init; }

    /// <summary>The smallest size measured above, at which the second is faster.</summary>
    public required int FirstAbove { get; init; }
}
