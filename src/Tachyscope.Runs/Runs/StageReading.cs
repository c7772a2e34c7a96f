namespace Tachyscope.Runs;

/// <summary>One timed batch of calls with the stages marked, taken beside the readings without marks.</summary>
sealed partial record StageReading
{
    /// <summary>Number of the round within its sitting, from 0.</summary>
    public int Round { get; init; }

    /// <summary>Index of the cell among the cells of the sitting.</summary>
    public int Cell { get; init; }

    /// <summary>Calls in the batch.</summary>
    public required long Calls { get; init; }

    /// <summary>Wall time of the batch, in nanoseconds, marks included.</summary>
    public required long ElapsedNanoseconds { get; init; }

    /// <summary>The stages, in the order they were first entered.</summary>
    public required IReadOnlyList<StageTime> Stages { get; init; }
}
