using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;

namespace Tachyscope.Analysis.Gates;

/// <summary>A cell beside what it was.</summary>
/// <param name="Study">Its study.</param>
/// <param name="Variant">Its row.</param>
/// <param name="Input">Its input.</param>
/// <param name="TimeRatio">Its time as a multiple of what it was; each end holds by itself, together with those of other cells.</param>
/// <param name="BytesBefore">Bytes it allocated per call.</param>
/// <param name="Bytes">Bytes it allocates per call.</param>
public sealed record GateCell(string Study, string Variant, string Input, Interval TimeRatio, double BytesBefore, double Bytes)
{
    /// <summary>By what it did other work than before; null where it did the same, or that cannot be told.</summary>
    public WorkDifference? Work { get; init; }

    /// <summary>The cells of a run on two targets, of which the first is what was.</summary>
    /// <param name="found">What was found of its studies.</param>
    public static IReadOnlyList<GateCell> Of(IReadOnlyList<StudyOnTargets> found)
        => [.. from study in found
               where study.Targets.Count > 1
               from contrast in study.Contrasts
               where contrast.Target == 1
               let before = study.Targets[0].Inputs[contrast.Input].Cells.FirstOrDefault(cell => cell.Row == contrast.Row)
               let now = study.Targets[1].Inputs[contrast.Input].Cells.FirstOrDefault(cell => cell.Row == contrast.Row)
               where before is not null && now is not null
               select new GateCell(study.Targets[0].Study.Name, now.Variant.Name, study.Targets[1].Inputs[contrast.Input].Input.Label,
                   contrast.OneSidedTimeRatio, before.AllocatedBytesPerCall, now.AllocatedBytesPerCall)];

    /// <summary>The cells of a run and of an earlier one.</summary>
    /// <param name="found">The two compared.</param>
    public static IReadOnlyList<GateCell> Of(RunComparison found)
    {
        ArgumentNullException.ThrowIfNull(found);
        return [.. found.Changes.Select(change => new GateCell(change.Later.Study, change.Later.Variant, change.Later.Input,
            change.OneSidedTimeRatio, change.Earlier.Bytes, change.Later.Bytes) { Work = change.Work })];
    }
}
