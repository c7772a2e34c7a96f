namespace Tachyscope.Protocol;

/// <summary>One round: which cells take a turn, in which order, on which processor.</summary>
sealed partial record RoundOrder
{
    /// <summary>Number of the round within its sitting, from 0.</summary>
    public required int Round { get; init; }

    /// <summary>Processor to run on; null to leave it to the system.</summary>
    public int? Processor { get; init; }

    /// <summary>Place of the first turn within the round; more than 0 when a round is asked for in parts.</summary>
    public int FirstPlace { get; init; }

    /// <summary>Indices of the cells, in the order of their turns.</summary>
    public required IReadOnlyList<int> Cells { get; init; }
}
