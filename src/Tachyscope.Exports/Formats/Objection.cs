using Tachyscope.Analysis.Limits;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Histories;
using Tachyscope.Runs;

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

        if (row.Cell.Failure is { Kind: not CellFailureKind.Missing } failure)
        {
            yield return new Objection("failed", $"{failure.Kind.ToString().ToLowerInvariant()}: {failure.Reason}");
        }

        foreach (var limit in row.Input.Limits.Where(limit => limit.Row == row.Cell.Row))
        {
            if (limit.State is LimitState.Broken or LimitState.Unsure)
            {
                var isUnsure = limit.State == LimitState.Unsure;
                var used = Quantity.Known(limit.Used, amount => LimitText.Amount(limit.Quantity, amount));
                var allowed = LimitText.Amount(limit.Quantity, limit.Allowed);
                yield return new Objection(
                    isUnsure ? "limit-unsure" : "limit-broken",
                    $"{LimitText.Word(limit.Quantity)} per call {used} where {allowed} is allowed"
                        + (isUnsure ? ", by the upper end of its interval" : ""));
            }
        }
    }
}
