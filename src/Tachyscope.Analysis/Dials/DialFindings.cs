using Tachyscope.Runs;

namespace Tachyscope.Analysis.Dials;

/// <summary>Which setting of a variant's dials to take.</summary>
public sealed record DialFindings
{
    /// <summary>Name of the variant.</summary>
    public required string Variant { get; init; }

    /// <summary>Number of threads; null when calls come from one.</summary>
    public int? Threads { get; init; }

    /// <summary>Names of its dials, one or two.</summary>
    public required IReadOnlyList<string> Dials { get; init; }

    /// <summary>What was found on each input on which it has figures.</summary>
    public required IReadOnlyList<DialOnInput> Inputs { get; init; }

    /// <summary>
    /// Settings that lose little against the best by the estimates, and are not shown to lose, on every input, the one that loses least
    /// first; empty when the best moves with the input.
    /// </summary>
    public required IReadOnlyList<IReadOnlyList<DialSetting>> BestEverywhere { get; init; }
}
