using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>A contrast as it is while the garbage collector is kept out of the readings.</summary>
/// <param name="TimeRatio">The row's time as a multiple of the other's.</param>
/// <param name="ShareRemaining">
/// What remains of the difference, by the logarithms of the two ratios; beyond 1 where keeping the collector out costs the
/// slower one more than collecting did, since it then writes to ever new memory.
/// </param>
/// <param name="IsChanged">Whether it differs from the contrast with the collector free by more than their intervals allow.</param>
public sealed record HeldContrast(Interval TimeRatio, double ShareRemaining, bool IsChanged);
