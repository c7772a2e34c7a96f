using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Findings;

/// <summary>What came of calling from several threads at once.</summary>
public sealed record ThreadFindings
{
    /// <summary>Number of threads.</summary>
    public required int Threads { get; init; }

    /// <summary>Calls of all threads together per second.</summary>
    public required Interval CallsPerSecond { get; init; }

    /// <summary>Calls per second as a multiple of what one thread gets done; null when one thread was not measured.</summary>
    public Interval? SpeedUp { get; init; }
}
