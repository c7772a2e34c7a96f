using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Histories;

/// <summary>What became of a cell from one run to a later one.</summary>
/// <param name="Earlier">The cell then.</param>
/// <param name="Later">The cell now.</param>
/// <param name="TimeRatio">Its time now as a multiple of what it was; holds together with the others at the level of its family.</param>
/// <param name="OneSidedTimeRatio">The same where one end decides, such as a gate: each end by itself holds together with those of the
/// other cells.</param>
/// <param name="Verdict">Whether it got faster, slower, stayed the same within the margin, or cannot be told.</param>
public sealed record CellChange(CellSummary Earlier, CellSummary Later, Interval TimeRatio, Interval OneSidedTimeRatio, Verdict Verdict)
{
    /// <summary>By what it did other work than then; null where it did the same, or that cannot be told.</summary>
    public WorkDifference? Work { get; init; }

    /// <summary>Whether its allocation is known on both sides and differs.</summary>
    public bool IsAllocationChanged => Allocation.Differs(Earlier.Bytes, Later.Bytes);
}
