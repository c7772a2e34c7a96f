using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>A contrast as it is while the garbage collector is kept out of the readings.</summary>
/// <param name="TimeRatio">The row's time as a multiple of the other's.</param>
/// <param name="SavedNanosecondsPerCall">Time saved per call, in nanoseconds.</param>
/// <param name="ShareRemaining">What is saved with the collector kept out, as a share of what is saved with it free.</param>
public sealed record HeldContrast(Interval TimeRatio, Interval SavedNanosecondsPerCall, double ShareRemaining);
