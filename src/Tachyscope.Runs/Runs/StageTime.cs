namespace Tachyscope.Runs;

/// <summary>What one reading found of a stage.</summary>
sealed partial record StageTime
{
    /// <summary>Name of the stage; the names of the stages around it come first, set apart by " › ".</summary>
    public required string Stage { get; init; }

    /// <summary>Times it was entered.</summary>
    public required long Count { get; init; }

    /// <summary>Times a stage inside it was entered.</summary>
    public long CountInside { get; init; }

    /// <summary>Time in it, in nanoseconds, marks included.</summary>
    public required long ElapsedNanoseconds { get; init; }
}
