namespace Tachyscope.Analysis.Findings;

/// <summary>A cell's way from its first call to rest; medians over sittings.</summary>
public sealed record WarmUpFindings
{
    /// <summary>Time of the first call in a process where nothing of the study ran before, in nanoseconds; NaN when that was not looked at.</summary>
    public required double ColdCallNanoseconds { get; init; }

    /// <summary>Time of the first call in a sitting, where other cells may have run before, in nanoseconds.</summary>
    public required double FirstCallNanoseconds { get; init; }

    /// <summary>Calls after which it ran as fast as in the end, within a tenth.</summary>
    public required double CallsUntilFast { get; init; }

    /// <summary>Time spent in those calls, in milliseconds.</summary>
    public required double MillisecondsUntilFast { get; init; }

    /// <summary>Bytes allocated per call before its code was optimised; NaN when not known.</summary>
    public required double AllocatedBytesPerCallBefore { get; init; }
}
