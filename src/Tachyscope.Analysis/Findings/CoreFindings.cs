using Tachyscope.Analysis.Machines;

namespace Tachyscope.Analysis.Findings;

/// <summary>Whose the core was while a study was measured, and of which readings its figures are made.</summary>
public sealed record CoreFindings
{
    private const double MostlyShared = 0.5;

    /// <summary>Whether the gauge was read beside the readings, and what it reads on a quiet core is known.</summary>
    public bool IsKnown { get; init; }

    /// <summary>
    /// Whether times and contrasts are those beside a core that was ours alone: made of the readings before and after which it was, or,
    /// where <see cref="IsAdjusted"/>, of all; else they are as they were read.
    /// </summary>
    public bool IsQuiet { get; init; }

    /// <summary>
    /// Whether some cell has fewer than three rounds of these in some sitting, so that all its rounds count, brought to a quiet core by how
    /// much of it was shared: an analysis of covariance, as <c>docs/method.md</c> has it.
    /// </summary>
    public bool IsAdjusted { get; init; }

    /// <summary>Whether times and contrasts are those of a core that somebody else used most of the time.</summary>
    public bool IsOfSharedCore => IsKnown && !IsQuiet && QuietShare < MostlyShared;

    /// <summary>Share of the readings before and after which it was; NaN when the gauge was not read.</summary>
    public double QuietShare { get; init; } = double.NaN;

    /// <summary>What calls took beside a core that was ours alone, and beside a shared one.</summary>
    public CallFindings Calls { get; init; } = new();

    /// <summary>Time spent looking for a quiet core, as a share of that spent in readings.</summary>
    public double SoughtShare { get; init; }
}
