using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Findings;

/// <summary>What a row takes when it finds the caches empty, up to some level.</summary>
/// <param name="EmptiedBytes">Size of the largest cache that was emptied before each call, in bytes.</param>
/// <param name="NanosecondsPerCall">Time of such a call.</param>
/// <param name="TimeRatio">The same as a multiple of the baseline's; null where it is that, or has none.</param>
public sealed record ColdFindings(long EmptiedBytes, Interval NanosecondsPerCall, Interval? TimeRatio);
