using Tachyscope.Analysis.Targets;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Puts a study's targets side by side: each row with its time on the first and what that must be multiplied or divided by elsewhere. Pure.</summary>
public static class TargetReporter
{
    /// <summary>One table for each input; none when there is but one target.</summary>
    /// <param name="run">The run.</param>
    /// <param name="found">What was found on its targets.</param>
    public static IReadOnlyList<FigureTable> Report(Run run, StudyOnTargets found)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(found);
        return run.Targets.Count < 2 ? [] : [.. Enumerable.Range(0, found.Targets[0].Inputs.Count).Select(input => new FigureTable
        {
            Title = $"{found.Targets[0].Study.Name} · {found.Targets[0].Inputs[input].Input.Label}, across targets",
            Of = "variant",
            Headings = [.. run.Targets.Select(target => target.Name)],
            Rows = [.. found.Targets[0].Inputs[input].Cells.Select(cell => new FigureRow(cell.Variant.Name,
            [
                cell.Failure is null ? Quantity.Time(cell.NanosecondsPerCall.Estimate, cell.NanosecondsPerCall.HalfWidth) : "not timed",
                .. Enumerable.Range(1, run.Targets.Count - 1).Select(target => Text(found, cell.Row, input, target)),
            ]))],
        })];
    }

    private static string Text(StudyOnTargets found, int row, int input, int target)
        => found.Contrasts.FirstOrDefault(contrast => (contrast.Row, contrast.Input, contrast.Target) == (row, input, target)) is { } contrast
            ? $"{Quantity.Factor(contrast.TimeRatio.Estimate, contrast.TimeRatio.Lower, contrast.TimeRatio.Upper)} {AnswerReporter.Sign(contrast.Verdict)}"
            : found.Targets[target].Inputs[input].Cells.FirstOrDefault(cell => cell.Row == row)?.Failure is null ? Quantity.Absent : "not there";
}
