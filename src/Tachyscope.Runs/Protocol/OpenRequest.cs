using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Open"/>.</summary>
sealed partial record OpenRequest
{
    /// <summary>Name of the study.</summary>
    public required string Study { get; init; }

    /// <summary>Seed handed to input factories that take one.</summary>
    public required int Seed { get; init; }

    /// <summary>Seed of what is shuffled anew for every sitting: the order in which the kinds of a mix come.</summary>
    public int Shuffle { get; init; }

    /// <summary>The cells of the sitting, in the order they are to be set up.</summary>
    public required IReadOnlyList<CellDescription> Cells { get; init; }
}
