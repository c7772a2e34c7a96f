using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Conclusions;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Overviews;

/// <summary>Puts a study into one table, and its doubts into one line each. Pure.</summary>
internal static class OverviewReporter
{
    private const int SubjectsNamed = 2;

    /// <summary>Rows are variants, columns inputs.</summary>
    public static OverviewTable Of(StudyFindings findings, ReportOptions options)
    {
        var words = new StudyWords(findings);
        string[] names = [.. Sorted(findings, options.Sort)];
        var table = new OverviewTable
        {
            Title = findings.Against == Against.Previous ? "over the one before" : "",
            Columns = [.. findings.Inputs.Select(input => input.Input.Label)],
            Rows = [.. names.Select(name => Row(
                name,
                [.. findings.Inputs.Select(input => input.Cells.FirstOrDefault(cell => cell.Variant.Name == name))],
                (cell, column) => Cell(cell, findings.Sittings,
                    findings.CaveatsOf(cell, findings.Inputs[column]).Any(caveat => !caveat.IsNote)),
                RemarkOf(words, name)))],
        };
        var chain = findings.Inputs.Select(input => input.Chains is [var whole, ..] ? whole : null).ToList();
        return WithBytesWhereTheyDiffer(chain.TrueForAll(contrast => contrast is null) ? table : table with
        {
            Rows = [.. table.Rows, new OverviewRow
            {
                Variant = StudyReporter.WholeChain, Bytes = "", Remark = "",
                Cells = [.. chain.Select(contrast => contrast is null ? null : Compared(contrast, findings.Sittings))],
            }],
        });
    }

    /// <summary>A row of one variant; bytes are taken out again where they tell nothing.</summary>
    public static OverviewRow Row(
        string name, IReadOnlyList<CellFindings?> cells, Func<CellFindings, int, OverviewCell> write, string remark)
    {
        var bytes = cells.Where(cell => cell is { Failure: null } && double.IsFinite(cell.AllocatedBytesPerCall))
            .Select(cell => cell!.AllocatedBytesPerCall).ToList();
        return new OverviewRow
        {
            Variant = name,
            Cells = [.. cells.Select((cell, column) => cell is null ? null : write(cell, column) with
            {
                Bytes = cell.Failure is null
                    && double.IsFinite(cell.AllocatedBytesPerCall) ? Quantity.Bytes(cell.AllocatedBytesPerCall) : "",
            })],
            Bytes = bytes.Count == 0 ? "" : Quantity.Range(Quantity.Bytes(bytes.Min()), Quantity.Bytes(bytes.Max())),
            Remark = remark,
        };
    }

    /// <summary>Without bytes, where all rows have the same.</summary>
    public static OverviewTable WithBytesWhereTheyDiffer(OverviewTable table)
    {
        var columns = Enumerable.Range(0, table.Columns.Count)
            .Select(column => table.Rows.Select(row => row.Cells[column]?.Bytes).Where(bytes => !string.IsNullOrEmpty(bytes)).Distinct()
                .Count());
        var rows = table.Rows.Select(row => row.Cells.Select(cell => cell?.Bytes).Where(bytes => !string.IsNullOrEmpty(bytes)).Distinct()
            .Count());
        return !columns.Any(count => count > 1) && !rows.Any(count => count > 1)
            ? table with
            {
                Rows = [.. table.Rows.Select(row => row with
                {
                    Bytes = "", Cells = [.. row.Cells.Select(cell => cell is null ? null : cell with { Bytes = "" })],
                })],
            }
            : table with { DoBytesVary = rows.Any(count => count > 1) };
    }

    /// <summary>What is doubtful in a study, the same reason told once; what is so of the whole run is told with the run.</summary>
    public static IEnumerable<Doubt> Doubts(StudyFindings findings)
        => findings.Caveats.Where(caveat => !caveat.IsOfRun && IsFelt(findings, caveat)).GroupBy(caveat => caveat.Name)
            .Select(group => new Doubt(group.Key, About(findings, [.. group]), group.First().IsNote));

    private static string About(StudyFindings findings, IReadOnlyList<Caveat> same)
    {
        if (same[0].Subject is null)
        {
            return same[0].Evidence;
        }

        var timed = findings.Inputs.SelectMany(input => input.Cells.Where(cell => cell.Failure is null)
            .Select(cell => findings.CaveatsOf(cell, input))).ToList();
        var only = findings.Inputs is [var input] ? $", {input.Input.Label}" : null;
        return timed.Count > 1 && timed.TrueForAll(caveats => caveats.Any(caveat => caveat.Name == same[0].Name)) ? "every row"
            : Wording.Some(same.Select(caveat => caveat.Subject).OfType<string>().Distinct()
                .Select(subject => only is not null && subject.EndsWith(only, StringComparison.Ordinal) ? subject[..^only.Length]
                    : Wording.Apart(subject)), SubjectsNamed);
    }

    /// <summary>Why variants have no figures, the same of several inputs told once.</summary>
    public static IEnumerable<string> Failures(StudyFindings findings)
        => from input in findings.Inputs
           from cell in input.Cells
           where cell.Failure is not null
           group input.Input.Label by (cell.Variant.Name, cell.Failure!.Reason, Lines: string.Join('\n', cell.Failure.LastLines)) into same
           let place = findings.Inputs.Count == 1 ? "" : $" on {Wording.Some(same, SubjectsNamed)}"
           from line in (string[])[$"{same.Key.Name}{place}: {same.Key.Reason}",
               .. same.Key.Lines.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(said => $"    {said}")]
           select line;

    /// <summary>A cell that is compared with another, or stands for itself.</summary>
    public static OverviewCell Cell(CellFindings cell, int sittings, bool isDoubted)
    {
        var (word, tone) = StudyReporter.Verdict(cell, sittings);
        var time = cell.Failure is null ? SpeedText.Time(cell) : "";
        var written = cell.Failure is not null ? (Figure: word, Reach: "")
            : Quantity.Parts(cell.Contrast is { } contrast ? SpeedText.Factor(contrast) : time);
        return new OverviewCell
        {
            Figure = written.Figure, Reach = written.Reach, Time = Quantity.Parts(time).Figure, Tone = tone, Verdict = word,
            IsDoubted = isDoubted,
        };
    }

    private static OverviewCell Compared(Contrast contrast, int sittings)
    {
        var cell = StudyReporter.OfContrast(contrast);
        return Cell(cell, sittings, isDoubted: false) with { Time = "" };
    }

    private static IEnumerable<string> Sorted(StudyFindings findings, SortOrder order)
    {
        var names = findings.Inputs.SelectMany(input => input.Cells).Select(cell => cell.Variant.Name).Distinct();
        double Mean(string name, Func<CellFindings, double> of)
        {
            var figures = findings.Inputs.SelectMany(input => input.Cells).Where(cell => cell.Variant.Name == name && cell.Failure is null)
                .Select(of).Where(double.IsFinite).ToList();
            return figures.Count == 0 ? double.PositiveInfinity : figures.Average();
        }

        return order switch
        {
            SortOrder.Time => names.OrderBy(name => Mean(name, cell => Math.Log(cell.NanosecondsPerCall.Estimate))),
            SortOrder.Bytes => names.OrderBy(name => Mean(name, cell => cell.AllocatedBytesPerCall)),
            SortOrder.Name => names.Order(StringComparer.OrdinalIgnoreCase),
            _ => names,
        };
    }

    private static string RemarkOf(StudyWords words, string name)
    {
        var row = words.Study.Variants.ToList().FindIndex(variant => variant.Name == name);
        var variant = row < 0 ? null : words.Study.Variants[row];
        if (variant?.Part == VariantPart.Prepare)
        {
            return "once";
        }

        string?[] remarks =
        [
            variant?.IsBaseline == true && words.Findings.Against != Against.Previous ? "baseline" : null,
            row < 0 ? null : DecisionSentences.Remark(words, row),
        ];
        return string.Join(", ", remarks.OfType<string>());
    }

    // What twins cannot tell apart matters where something is not told apart.
    private static bool IsFelt(StudyFindings findings, Caveat caveat)
        => caveat.Name != "coarse" || findings.Inputs.Any(input => input.Input.Label == caveat.Subject
            && input.Cells.Any(cell => cell.Contrast?.Verdict == Analysis.Contrasts.Verdict.Unclear));
}
