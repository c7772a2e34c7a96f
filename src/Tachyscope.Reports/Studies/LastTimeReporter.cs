using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Studies;

/// <summary>Says what became of each variant since an earlier run of the same studies.</summary>
public static class LastTimeReporter
{
    /// <summary>A line for each variant on each input.</summary>
    /// <param name="before">What was found the last time.</param>
    /// <param name="now">What was found now.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static IReadOnlyList<string> Lines(IReadOnlyList<StudyFindings> before, IReadOnlyList<StudyFindings> now)
    {
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(now);
        var known = Cells(before).GroupBy(cell => cell.Key).ToDictionary(group => group.Key, group => group.First().Cell);
        var found = Cells(now).GroupBy(cell => cell.Key).ToDictionary(group => group.Key, group => group.First().Cell);
        return
        [
            .. found.Select(cell => known.TryGetValue(cell.Key, out var earlier)
                ? $"{Named(cell.Key)}: {Change(earlier, cell.Value)}"
                : $"{Named(cell.Key)}: new"),
            .. known.Keys.Except(found.Keys).Select(key => $"{Named(key)}: gone"),
        ];
    }

    private static string Change(CellFindings before, CellFindings now)
    {
        if (now.Failure is not null || before.Failure is not null)
        {
            return now.Failure is null ? "measured again" : before.Failure is null ? "failed, and did not the last time"
                : "fails as it did";
        }

        var times = $"{Quantity.Time(before.NanosecondsPerCall.Estimate)} → {Quantity.Time(now.NanosecondsPerCall.Estimate)}";
        return LastTime.Ratio(before.NanosecondsPerCall, now.NanosecondsPerCall) switch
        {
            { IsKnown: false } => $"{times}, which cannot be compared",
            { Upper: < 1 } faster => $"{times}, faster: {Quantity.Factor(faster)}",
            { Lower: > 1 } slower => $"{times}, slower: {Quantity.Factor(slower)}",
            _ => $"{times}, not told apart",
        };
    }

    private static string Named((string Study, string Variant, string Input) key) => $"{key.Study}, {key.Variant}, {key.Input}";

    private static IEnumerable<((string Study, string Variant, string Input) Key,
        CellFindings Cell)> Cells(IReadOnlyList<StudyFindings> studies)
        => from study in studies
           from input in study.Inputs
           from cell in input.Cells
           select ((study.Study.Name, cell.Variant.Name, input.Input.Label), cell);
}
