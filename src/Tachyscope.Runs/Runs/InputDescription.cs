namespace Tachyscope.Runs;

/// <summary>One input of a study, by name.</summary>
sealed partial record InputDescription
{
    /// <summary>Its label, unique in the study.</summary>
    public required string Label { get; init; }

    /// <summary>Its size along every axis; empty for a named kind.</summary>
    public IReadOnlyList<InputSize> Sizes { get; init => field = value ?? []; } = [];

    /// <summary>How often it comes in the study's mix, against the other weights; null when it has no part in it.</summary>
    public double? Weight { get; init; }

    /// <summary>How many of them there are, each made from a seed of its own, for calls to take in turn; null for a single one.</summary>
    public int? Pool { get; init; }

    /// <summary>Whether a pool is gone through in the order it was made in, and not in a shuffled one.</summary>
    public bool IsPoolInTurn { get; init; }

    /// <summary>Whether calls get one or another of several.</summary>
    public bool IsOfMany() => IsMix || Pool is not null;

    /// <summary>Whether it is the mix: all weighted inputs in shuffled order, as often as their weights say.</summary>
    public bool IsMix { get; init; }

    /// <summary>What one call on it gets done; null when not declared.</summary>
    public WorkPerCall? Work { get; init; }
}
