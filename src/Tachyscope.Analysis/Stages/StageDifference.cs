using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Stages;

/// <summary>What one stage contributes to the difference between two rows.</summary>
/// <param name="Stage">Name of the stage; null for the time outside all stages.</param>
/// <param name="SavedNanosecondsPerCall">Time saved in it per call, in nanoseconds; negative when it takes longer.</param>
/// <param name="ShareOfDifference">
/// That as a share of the whole difference, with what is uncertain in both (Fieller); beyond 1 or negative where stages pull in opposite
/// directions.
/// </param>
public sealed record StageDifference(string? Stage, Interval SavedNanosecondsPerCall, Interval ShareOfDifference);
