namespace Tachyscope.Analysis.Findings;

/// <summary>Whose the core was while a study was measured, and of which readings its figures are made.</summary>
public sealed record CoreFindings
{
    /// <summary>Whether the gauge was read beside the readings, and what it reads on a quiet core is known.</summary>
    public bool IsKnown { get; init; }

    /// <summary>Whether times and contrasts are made of the readings before and after which the core was ours alone; else of all.</summary>
    public bool IsQuiet { get; init; }

    /// <summary>Share of the readings before and after which it was; NaN when the gauge was not read.</summary>
    public double QuietShare { get; init; } = double.NaN;

    /// <summary>Time spent looking for a quiet core, as a share of that spent in readings.</summary>
    public double SoughtShare { get; init; }
}
