namespace Tachyscope.Runs;

/// <summary>How one cell became ready to be read.</summary>
public sealed record WarmUp
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

    /// <summary>Time of one call at the end of warming, in nanoseconds, loop included.</summary>
    public double NanosecondsPerCall { get; init; }

    /// <summary>Calls that make up one reading.</summary>
    public long CallsPerReading { get; init; }
}
