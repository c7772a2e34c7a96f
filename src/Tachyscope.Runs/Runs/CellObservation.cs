namespace Tachyscope.Runs;

/// <summary>Something noticed of a cell while its answer was compared, that may spoil its figures.</summary>
sealed partial record CellObservation
{
    /// <summary>Index of the row in its study.</summary>
    public required int Variant { get; init; }

    /// <summary>Index of the target in the run; 0 when the run has one.</summary>
    public int Target { get; init; }

    /// <summary>Index of the input in its study; of the last one when it was noticed over several.</summary>
    public required int Input { get; init; }

    /// <summary>What was noticed.</summary>
    public required ObservationKind Kind { get; init; }

    /// <summary>The evidence, in a few words.</summary>
    public required string Evidence { get; init; }
}
