using Tachyscope.Runs;

namespace Tachyscope.Lab.Planning;

/// <summary>What a sitting is to be like.</summary>
public sealed record SittingWish
{
    /// <summary>Seed of every order.</summary>
    public required int Seed { get; init; }

    /// <summary>Processors to choose from, one a round; empty to leave it to the system.</summary>
    public IReadOnlyList<int> Processors { get; init; } = [];

    /// <summary>Targets, each of which has the cells in a worker of its own; 1 by default.</summary>
    public int Targets { get; init; } = 1;

    /// <summary>
    /// The loop a row is measured in on a target, given the target and the row; that of the study's description by default.
    /// </summary>
    public Func<int, int, LoopShape>? LoopOn { get; init; }

    /// <summary>The run's guest that a row lives in, given the row; null for rows of the study's own, which all are by default.</summary>
    public Func<int, int?>? GuestOf { get; init; }

    /// <summary>Cells that take no part, as variant, input and target.</summary>
    public IReadOnlySet<(int Variant, int Input, int Target)> Excluded { get; init; } = new HashSet<(int, int, int)>();

    /// <summary>Cells known well enough, as variant and input; they take part in fewer rounds.</summary>
    public IReadOnlyCollection<(int Variant, int Input)> Decided { get; init; } = [];

    /// <summary>Copies of the study's code at most; 1 by default.</summary>
    public int Copies { get; init; } = 1;

    /// <summary>Whether every cell is read in a loop of overlapping calls too.</summary>
    public bool IsOverlappedRead { get; init; }

    /// <summary>Whether every cell is read in a loop too that never takes the operation in.</summary>
    public bool IsCalledRead { get; init; }

    /// <summary>Sizes of the caches that are emptied before each call in further loops, in bytes; empty for none.</summary>
    public IReadOnlyList<long> EmptiedBytes { get; init; } = [];

    /// <summary>Whether every variant gets a worker of its own, and the twin one too.</summary>
    public bool IsApart { get; init; }
}
