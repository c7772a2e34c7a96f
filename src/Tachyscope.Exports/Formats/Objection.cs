using Tachyscope.Reports.Histories;

namespace Tachyscope.Exports.Formats;

/// <summary>
/// What a check would object to in a cell: a variant that failed, a limit that is broken or not shown to be kept, a gate that it closes.
/// </summary>
/// <param name="Rule">Its name, one of those that <see cref="SarifExport"/> describes.</param>
/// <param name="Message">What is wrong, with figures.</param>
internal sealed record Objection(string Rule, string Message)
{
    public static IEnumerable<Objection> Of(Export export, ResultRow row)
    {
        var isLast = export.Run.Targets.Count < 2 || row.Target == export.Run.Targets[^1].Name;
        foreach (var judged in export.Gate.Where(judged => isLast
            && (judged.Cell.Study, judged.Cell.Variant, judged.Cell.Input) == (row.Study.Study.Name, row.Cell.Variant.Name,
                row.Input.Input.Label)))
        {
            foreach (var (rule, text) in GateReporter.Objections(judged))
            {
                yield return new Objection(rule, text);
            }
        }

        foreach (var (rule, text) in GateReporter.Objections(row.Input, row.Cell))
        {
            yield return new Objection(rule, text);
        }
    }
}
