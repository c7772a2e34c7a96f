using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>A cell's way from its first call to rest; medians over sittings.</summary>
public sealed record WarmUpFindings
{
    /// <summary>
    /// Time of the first call in a process where nothing of the study ran before, in nanoseconds; NaN when that was not looked at.
    /// </summary>
    public required double ColdCallNanoseconds { get; init; }

    /// <summary>Time of the first call in a sitting, where other cells may have run before, in nanoseconds.</summary>
    public required double FirstCallNanoseconds { get; init; }

    /// <summary>Calls after which it ran as fast as in the end, within a tenth.</summary>
    public required double CallsUntilFast { get; init; }

    /// <summary>Time spent in those calls, in milliseconds.</summary>
    public required double MillisecondsUntilFast { get; init; }

    /// <summary>
    /// When it counted as settled, in milliseconds after warming began, other cells' calls included; NaN when it never did.
    /// </summary>
    public double SettledMilliseconds { get; init; } = double.NaN;

    /// <summary>When a method was last compiled during its calls, in milliseconds after warming began; NaN when none was.</summary>
    public double LastCompiledMilliseconds { get; init; } = double.NaN;

    /// <summary>When its bytes per call last changed, in milliseconds after warming began; NaN when they never did.</summary>
    public double BytesChangedMilliseconds { get; init; } = double.NaN;

    /// <summary>Versions of its method that the runtime made, oldest first; empty when that was not looked at.</summary>
    public IReadOnlyList<CodeVersion> CodeVersions { get; init; } = [];

    /// <summary>Bytes allocated per call before its code was optimised; NaN when not known.</summary>
    public required double AllocatedBytesPerCallBefore { get; init; }
}
