using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Findings;

/// <summary>What was found of one stage of an operation.</summary>
public sealed record StageFindings
{
    /// <summary>Name of the stage; the names of the stages around it come first, set apart by " › ".</summary>
    public required string Stage { get; init; }

    /// <summary>Times it is entered per call.</summary>
    public required double CountPerCall { get; init; }

    /// <summary>Its share of the time of a call, the cost of the marks taken out.</summary>
    public required Interval Share { get; init; }

    /// <summary>Time in it per call, in nanoseconds: its share of the time measured without marks.</summary>
    public required Interval NanosecondsPerCall { get; init; }
}
