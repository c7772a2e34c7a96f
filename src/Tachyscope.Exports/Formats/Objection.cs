using Tachyscope.Analysis.Limits;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Exports.Formats;

/// <summary>What a check would object to in a cell: a variant that failed, a limit that is broken or not shown to be kept.</summary>
/// <param name="Rule">Its name: "failed", or "limit-broken", or "limit-unsure".</param>
/// <param name="Message">What is wrong, with figures.</param>
internal sealed record Objection(string Rule, string Message)
{
    public static IEnumerable<Objection> Of(ResultRow row)
    {
        if (row.Cell.Failure is { Kind: not CellFailureKind.Missing } failure)
        {
            yield return new Objection("failed", $"{failure.Kind.ToString().ToLowerInvariant()}: {failure.Reason}");
        }

        foreach (var limit in row.Input.Limits.Where(limit => limit.Row == row.Cell.Row))
        {
            if (limit.State is LimitState.Broken or LimitState.Unsure)
            {
                string Amount(double amount) => limit.Quantity == LimitQuantity.Bytes ? Quantity.Bytes(amount) : Quantity.Time(amount);
                var what = limit.Quantity switch { LimitQuantity.Bytes => "bytes", LimitQuantity.Time => "time", _ => "processor time" };
                yield return new Objection(
                    limit.State == LimitState.Broken ? "limit-broken" : "limit-unsure",
                    $"{what} per call {Quantity.Known(limit.Used, Amount)} where {Amount(limit.Allowed)} is allowed{(limit.State == LimitState.Unsure ? ", by the upper end of its interval" : "")}");
            }
        }
    }
}
