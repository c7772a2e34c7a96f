namespace Tachyscope.Runs;

/// <summary>A cell that could not be measured to the end, and why.</summary>
sealed partial record CellFailure
{
    /// <summary>Index of the variant in its study.</summary>
    public required int Variant { get; init; }

    /// <summary>Index of the input in its study.</summary>
    public required int Input { get; init; }

    /// <summary>Index of the target in the run; 0 when the run has one.</summary>
    public int Target { get; init; }

    /// <summary>What happened.</summary>
    public required CellFailureKind Kind { get; init; }

    /// <summary>The reason in a sentence.</summary>
    public required string Reason { get; init; }

    /// <summary>The last lines its worker wrote; empty when it wrote none or lived on.</summary>
    public IReadOnlyList<string> LastLines { get; init => field = value ?? []; } = [];
}
