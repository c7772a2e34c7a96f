using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>What was found on one input of a study.</summary>
public sealed record InputFindings
{
    /// <summary>The input.</summary>
    public required InputDescription Input { get; init; }

    /// <summary>The variants, in the order they were defined.</summary>
    public required IReadOnlyList<CellFindings> Cells { get; init; }

    /// <summary>The baseline's twin compared with it: what the run cannot tell apart.</summary>
    public required Interval TwinTimeRatio { get; init; }

    /// <summary>The least difference that can be claimed here, as a share; infinite when there is no twin.</summary>
    public required double FloorShare { get; init; }
}
