using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>What was found of one variant on one input.</summary>
public sealed record CellFindings
{
    /// <summary>The variant.</summary>
    public required VariantDescription Variant { get; init; }

    /// <summary>Why it has no figures; null when it has.</summary>
    public CellFailure? Failure { get; init; }

    /// <summary>Time per call, in nanoseconds, without the loop, at the median speed of the machine.</summary>
    public required Interval NanosecondsPerCall { get; init; }

    /// <summary>Whether the time is above what the clock and the loop can tell from nothing.</summary>
    public bool IsResolved { get; init; }

    /// <summary>Bytes allocated per call, after warm-up; NaN without readings.</summary>
    public double AllocatedBytesPerCall { get; init; }

    /// <summary>The comparison with the baseline; null for the baseline and where there is none.</summary>
    public Contrast? Contrast { get; init; }

    /// <summary>What the signals say of its readings.</summary>
    public required SignalCount Signals { get; init; }

    /// <summary>Sittings that counted it as settled.</summary>
    public int SettledSittings { get; init; }
}
