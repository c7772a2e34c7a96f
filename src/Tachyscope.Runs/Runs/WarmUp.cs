namespace Tachyscope.Runs;

/// <summary>How one cell became ready to be read.</summary>
sealed partial record WarmUp
{
    /// <summary>Index of the cell among the cells of the sitting.</summary>
    public required int Cell { get; init; }

    /// <summary>Wall time of its very first call in the process, in nanoseconds.</summary>
    public long FirstCallNanoseconds { get; init; }

    /// <summary>Bytes allocated by its very first call.</summary>
    public long FirstCallAllocatedBytes { get; init; }

    /// <summary>Calls made before its readings.</summary>
    public long Calls { get; init; }

    /// <summary>Whether compilation, allocation and speed had come to rest.</summary>
    public bool IsSettled { get; init; }

    /// <summary>When it counted as settled, in milliseconds since warming began; null when it never did.</summary>
    public double? SettledMilliseconds { get; init; }

    /// <summary>When a method was last compiled during its calls, in milliseconds since warming began; null when none was.</summary>
    public double? LastCompiledMilliseconds { get; init; }

    /// <summary>When its bytes per call last changed, in milliseconds since warming began; null when they never did.</summary>
    public double? BytesChangedMilliseconds { get; init; }

    /// <summary>Calls after which it ran as fast as it did in the end, within a tenth.</summary>
    public long CallsUntilFast { get; init; }

    /// <summary>Time spent in those calls, in milliseconds.</summary>
    public double MillisecondsUntilFast { get; init; }

    /// <summary>Time of one call at the end of warming, in nanoseconds, loop included.</summary>
    public double NanosecondsPerCall { get; init; }

    /// <summary>Calls that make up one reading.</summary>
    public long CallsPerReading { get; init; }

    /// <summary>Exceptions thrown per call, caught ones included, counted apart from the readings.</summary>
    public double ExceptionsPerCall { get; init; }

    /// <summary>
    /// Reads and writes per call that it asked of the system, counted apart from the readings; null where the system does not tell.
    /// </summary>
    public double? ReadsAndWritesPerCall { get; init; }

    /// <summary>
    /// Times per call that it left the processor of its own accord, to sleep or to wait, in the quietest of a few looks apart from the
    /// readings, without those that a collection came into; null where none is left, where the system does not tell, and where other
    /// threads take part.
    /// </summary>
    public double? WaitsPerCall { get; init; }

    /// <summary>
    /// How much of what a call takes, of processor time or of bytes, is spent by other threads than the one that makes it, so that
    /// the whole process's are counted in its readings; null where next to nothing is.
    /// </summary>
    public double? OtherThreadsShare { get; init; }

    /// <summary>Most memory that a program started for a call held at once, in bytes; null for what is no program of its own, and where it
    /// cannot be told.</summary>
    public long? PeakMemoryBytes { get; init; }

    /// <summary>The code that came of it; null where nothing was told of it.</summary>
    public CellCode? Code { get; init; }

    /// <summary>Its way there, at steps that grow with the number of calls.</summary>
    public IReadOnlyList<WarmUpPoint> Curve { get; init => field = value ?? []; } = [];
}
