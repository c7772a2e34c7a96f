namespace Tachyscope.Protocol;

/// <summary>A cell that threw while it was warmed or read.</summary>
sealed partial record CellError
{
    /// <summary>Index of the cell among the cells of the sitting.</summary>
    public required int Cell { get; init; }

    /// <summary>The exception in a sentence.</summary>
    public required string Reason { get; init; }
}
