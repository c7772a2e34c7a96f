namespace Tachyscope.Lab.Experiments;

/// <summary>How far a study's contrasts are known, as its readings so far tell.</summary>
public sealed record Standing
{
    /// <summary>Whether all are as tight as the run was asked to make them.</summary>
    public bool IsPreciseEnough { get; init; }

    /// <summary>Sittings after which they will probably be; null when that cannot be told.</summary>
    public int? SittingsNeeded { get; init; }

    /// <summary>Sittings that are worth their time where nobody set one; null for the usual number.</summary>
    public int? SittingsWorth { get; init; }

    /// <summary>Cells known well enough for the question asked, as variant and input; they get fewer rounds.</summary>
    public IReadOnlyCollection<(int Variant, int Input)> Decided { get; init; } = [];
}
