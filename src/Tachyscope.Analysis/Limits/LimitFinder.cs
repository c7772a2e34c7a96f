using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Limits;

/// <summary>Holds the figures of one input against the limits its study declares.</summary>
internal static class LimitFinder
{
    // Bytes are counted exactly; a stray one among thousands of calls is the runtime's own.
    private const int ByteDecimals = 2;

    public static IEnumerable<LimitFindings> Find(SittingsView view, int input, IReadOnlyList<int> rows)
    {
        var study = view.Record.Study;
        return from limit in study.Limits
               where limit.Input is null || limit.Input == study.Inputs[input].Label
               from row in rows
               where IsMeant(limit, study.Variants[row]) && view.Failure(row, input) is null
               from finding in Findings(view, limit, row, input)
               select finding;
    }

    // What is prepared once is asked for by the name of its row.
    private static bool IsMeant(LimitDescription limit, VariantDescription row)
        => limit.Variant == row.Name || (row.Part != VariantPart.Prepare && (limit.Variant is null || limit.Variant == row.Variant));

    private static IEnumerable<LimitFindings> Findings(SittingsView view, LimitDescription limit, int row, int input)
    {
        if (limit.Nanoseconds is { } time)
        {
            yield return Finding(LimitQuantity.Time, time, view.PaidTime(row, input));
        }

        if (limit.ProcessorNanoseconds is { } processor)
        {
            yield return Finding(LimitQuantity.ProcessorTime, processor, view.AtMost(row, input) is null
                ? SampleStatistics.MeanInterval(view.ProcessorTimes(row, input), view.Level)
                : view.Time(row, input));
        }

        if (limit.AllocatedBytes is { } bytes)
        {
            var threads = view.Record.Study.Variants[row].Loop.Threads ?? 1;
            var used = view.Series(
                row, input, (sitting, cell) => Math.Round(sitting.Signals[cell].AllocatedBytesPerCall / threads, ByteDecimals));
            yield return Finding(LimitQuantity.Bytes, bytes, SampleStatistics.MeanInterval(used, view.Level));
        }

        LimitFindings Finding(LimitQuantity quantity, double allowed, Interval used) => new()
        {
            Row = row, Quantity = quantity, Allowed = allowed, Used = used,
        };
    }
}
