using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Pinpoints;

/// <summary>A cell that differs between two revisions, and what of it does.</summary>
/// <param name="Study">Its study.</param>
/// <param name="Variant">Its row.</param>
/// <param name="Input">Its input.</param>
/// <param name="IsByBytes">Whether its bytes per call are followed, which are exact; its time otherwise.</param>
/// <param name="TimeRatio">Its later time as a multiple of the earlier.</param>
/// <param name="BytesBefore">Bytes it allocated per call.</param>
/// <param name="Bytes">Bytes it allocates per call.</param>
internal sealed record HuntedCell(
    string Study, string Variant, string Input, bool IsByBytes, Interval TimeRatio, double BytesBefore, double Bytes)
{
    private const double Tight = 3;

    /// <summary>As reports name it.</summary>
    public string Name => $"{Variant} · {Input}";

    /// <summary>How sure its time is to have changed, as a multiple of the interval's reach; 0 where nothing is told.</summary>
    public double Sureness { get; private init; }

    /// <summary>Whether its change is known well enough to be looked for.</summary>
    public bool IsTight => IsByBytes || Sureness >= Tight;

    /// <summary>All cells of a run on two targets, and what became of them; by time first, the largest change before others.</summary>
    /// <param name="found">What was found of its studies.</param>
    /// <param name="part">A part of the cell's name with its study; empty for any.</param>
    /// <param name="isByBytes">Whether bytes are followed; null for time where it is sure to have changed, and bytes elsewhere.</param>
    public static IReadOnlyList<HuntedCell> All(IEnumerable<StudyOnTargets> found, string part, bool? isByBytes)
        => [.. (from study in found
                from contrast in study.Contrasts
                where contrast.Target == 1
                let cell = Of(study, contrast, isByBytes)
                where cell is not null && $"{cell.Study} · {cell.Name}".Contains(part, StringComparison.OrdinalIgnoreCase)
                select cell)
            .OrderBy(cell => cell.IsByBytes || cell.Sureness == 0).ThenByDescending(cell => Math.Abs(Math.Log(cell.TimeRatio.Estimate)))
            .ThenByDescending(cell => Math.Abs(cell.Bytes - cell.BytesBefore))];

    /// <summary>Whether anything of it is told to have changed.</summary>
    public bool IsChanged => IsByBytes || Sureness > 0;

    /// <summary>Whether a cell of a study is this one, or the one it is compared with.</summary>
    public bool IsMeant(StudyDescription study, int variant, int input)
        => study.Inputs[input].Label == Input
            && (study.Variants[variant].Name == Variant || study.Variants[variant].IsBaseline);

    private static HuntedCell? Of(StudyOnTargets study, TargetContrast contrast, bool? isByBytes)
    {
        var (before, now) = (study.Targets[0], study.Targets[1]);
        var cells = before.Inputs[contrast.Input].Cells.Where(cell => cell.Row == contrast.Row)
            .Concat(now.Inputs[contrast.Input].Cells.Where(cell => cell.Row == contrast.Row)).ToList();
        if (cells is not [var earlier, var later])
        {
            return null;
        }

        var ratio = contrast.TimeRatio.Through(Math.Log);
        var isMoved = contrast.Verdict is Verdict.Faster or Verdict.Slower && ratio.IsBounded;
        return new HuntedCell(before.Study.Name, later.Variant.Name, now.Inputs[contrast.Input].Input.Label,
            (isByBytes ?? !isMoved) && Allocation.Differs(later.AllocatedBytesPerCall, earlier.AllocatedBytesPerCall),
            contrast.TimeRatio, earlier.AllocatedBytesPerCall, later.AllocatedBytesPerCall)
        {
            Sureness = isMoved && isByBytes != true ? Math.Abs(ratio.Estimate) / ratio.HalfWidth : 0,
        };
    }
}
