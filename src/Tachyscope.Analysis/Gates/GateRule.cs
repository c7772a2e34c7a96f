using System.IO.Enumeration;

namespace Tachyscope.Analysis.Gates;

/// <summary>What a cell may become before a gate closes.</summary>
public sealed record GateRule
{
    /// <summary>Which cells it is for: a study, a study and a variant, or both and an input, set apart by " · "; * stands for
    /// anything.</summary>
    public string Cells { get; init; } = "*";

    /// <summary>How much slower a cell may be, as a share; 0.02 by default.</summary>
    public double MarginShare { get; init; } = 0.02;

    /// <summary>Whether it may allocate more than before; false by default.</summary>
    public bool IsMoreAllocationAllowed { get; init; }

    /// <summary>Whether what cannot be told closes the gate; false by default.</summary>
    public bool IsUnclearFailure { get; init; }

    internal bool IsFor(GateCell cell)
        => FileSystemName.MatchesSimpleExpression(Cells, cell.Study)
            || FileSystemName.MatchesSimpleExpression(Cells, $"{cell.Study} · {cell.Variant}")
            || FileSystemName.MatchesSimpleExpression(Cells, $"{cell.Study} · {cell.Variant} · {cell.Input}");
}
