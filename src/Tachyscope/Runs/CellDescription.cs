namespace Tachyscope.Runs;

/// <summary>One cell of a sitting: what is measured, on which input, by which call.</summary>
public sealed record CellDescription
{
    /// <summary>What the cell measures.</summary>
    public required CellKind Kind { get; init; }

    /// <summary>Index of the variant in its study; 0 for identity and metronome.</summary>
    public int Variant { get; init; }

    /// <summary>Index of the input in its study; 0 for identity and metronome.</summary>
    public int Input { get; init; }

    /// <summary>How the loop reaches the operation.</summary>
    public CallPath Path { get; init; }
}
