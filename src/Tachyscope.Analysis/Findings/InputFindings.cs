using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Limits;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Uses;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>What was found on one input of a study.</summary>
public sealed record InputFindings
{
    /// <summary>The input.</summary>
    public required InputDescription Input { get; init; }

    /// <summary>The variants, in the order they were defined.</summary>
    public required IReadOnlyList<CellFindings> Cells { get; init; }

    /// <summary>The last row compared with the first, where each is compared with the one before; empty otherwise.</summary>
    public IReadOnlyList<Contrast> Chains { get; init; } = [];

    /// <summary>Every two rows that are ranked together, as the ranking compares them; the level is adjusted for their number.</summary>
    public IReadOnlyList<PairContrast> Pairs { get; init; } = [];

    /// <summary>After how many uses what is prepared once pays.</summary>
    public IReadOnlyList<BreakEven> BreakEvens { get; init; } = [];

    /// <summary>How much of each declared limit is used.</summary>
    public IReadOnlyList<LimitFindings> Limits { get; init; } = [];

    /// <summary>The baseline's twin compared with it: what the run cannot tell apart.</summary>
    public required Interval TwinTimeRatio { get; init; }

    /// <summary>The least difference that can be claimed here, as a share; infinite when there is no twin.</summary>
    public required double ResolutionShare { get; init; }
}
