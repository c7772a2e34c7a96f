namespace Tachyscope.Runs;

/// <summary>One cell of a sitting: what is measured, on which input, in which loop.</summary>
sealed partial record CellDescription
{
    /// <summary>What the cell measures.</summary>
    public required CellKind Kind { get; init; }

    /// <summary>Index of the row in its study; of the one whose loop it is for an identity; 0 for the metronome.</summary>
    public int Variant { get; init; }

    /// <summary>Index of the input in its study; 0 for the metronome.</summary>
    public int Input { get; init; }

    /// <summary>The loop it is measured in.</summary>
    public LoopShape Loop { get; init => field = value ?? new(); } = new();

    /// <summary>Index of its target in the run; 0 when the run has one.</summary>
    public int Target { get; init; }

    /// <summary>Index of the guest that calls it, among those of the run; null for the study's own worker.</summary>
    public int? Guest { get; init; }

    /// <summary>Which copy of the study's code it calls, from 0; a loop or the metronome belongs to none.</summary>
    public int Copy { get; init; }

    /// <summary>Which of the sitting's workers holds it, from 0; more than one only when variants are measured apart.</summary>
    public int Worker { get; init; }
}
