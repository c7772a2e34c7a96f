using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;
using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Speeds;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Exports.Formats;

/// <summary>Writes results, or every reading, as a table of comma-separated values (RFC 4180), units in the names of the columns.</summary>
/// <remarks>A name that a spreadsheet would take for a formula gets an apostrophe before it.</remarks>
internal static class CsvExport
{
    private const string FormulaSigns = "=+-@\t\r";

    private static readonly CsvConfiguration Rfc4180 = new(CultureInfo.InvariantCulture) { NewLine = "\r\n" };

    public static void WriteResults(Export export, Stream stream)
    {
        string[] names =
        [
            "study", "target", "input", "variant", "is_baseline",
            "time_ns", "time_lower_ns", "time_upper_ns", "time_bound",
            "ratio", "ratio_lower", "ratio_upper", "ratio_bound", "ratio_level", "verdict",
            "allocated_bytes", "processor_time_ns", "place_first", "place_last", "caveats", "failure",
            "speeds_ns", "speeds_placements", "placements",
        ];
        Write(stream, names, ResultRow.Of(export).Select(row => (object?[])
        [
            Safe(row.Study.Study.Name), Safe(row.Target), Safe(row.Input.Input.Label), Safe(row.Cell.Variant.Name),
                row.Cell.Variant.IsBaseline ? 1 : 0,
            .. Parts(row.Cell.Failure is null ? row.Cell.NanosecondsPerCall : null), .. Parts(row.Cell.Contrast?.TimeRatio),
            row.Cell.Contrast?.TimeRatio.Level, row.Verdict,
            row.Cell.Failure is null ? Finite(row.Cell.AllocatedBytesPerCall) : null, Finite(row.Cell.ProcessorNanosecondsPerCall),
            row.Cell.Place?.First, row.Cell.Place?.Last, string.Join(' ', Caveats(row)), Safe(row.Cell.Failure?.Reason ?? ""),
            Several(row, speed => speed.NanosecondsPerCall.Estimate), Several(row, speed => speed.Placements),
            row.Cell.Placements == 0 ? null : row.Cell.Placements,
        ]));
    }

    public static void WriteReadings(Export export, Stream stream)
        => Write(stream, ReadingRow.Names, ReadingRow.Of(export.Run).Select(row => (object?[])
        [
            Safe(row.Study), Safe(row.Target), Safe(row.Input), Safe(row.Variant), row.Sitting, row.Repeat, row.Round, row.Place, row.Copy,
            row.Calls, row.ElapsedNanoseconds, row.ProcessorNanoseconds, row.AllocatedBytes, row.CollectionsGen0, row.CollectionsGen1,
                row.CollectionsGen2,
            row.PauseNanoseconds, row.CompiledMethods, row.LockContentions,
        ]));

    /// <summary>A row for each cell in each run, with the place of the change that begins there.</summary>
    public static void WriteTrends(IReadOnlyList<StudyTrend> trends, Stream stream)
    {
        string[] names =
        [
            "study", "target", "input", "variant", "run", "label", "started_utc", "commit", "is_dirty", "machine", "runtime",
            "time_ns", "is_bound", "time_beats", "allocated_bytes", "is_quiet", "change_ratio",
        ];
        Write(stream, names, from trend in trends
                             from cell in trend.Cells
                             from index in Enumerable.Range(0, trend.Runs.Count)
                             let run = trend.Runs[index]
                             let then = run.Cells.FirstOrDefault(found => found.Name == cell.Cell.Name)
                             where then is not null
                             select (object?[])
        [
            Safe(trend.Study), Safe(then.Target), Safe(then.Input), Safe(then.Variant), run.Id, Safe(run.Label ?? ""),
            run.Started.UtcDateTime.ToString("O", CultureInfo.InvariantCulture), run.Code.Commit, run.Code.IsDirty ? 1 : 0,
            Safe(run.Machine), Safe(run.Runtime), then.Nanoseconds, then.IsBound ? 1 : 0, Finite(then.Beats), Finite(then.Bytes),
            then.IsQuiet ? 1 : 0,
            cell.Changes.FirstOrDefault(change => change.Index == index)?.TimeRatio.Estimate,
        ]);
    }

    /// <summary>Names of the caveats of a cell.</summary>
    public static IEnumerable<string> Caveats(ResultRow row)
        => row.Study.CaveatsOf(row.Cell, row.Input).Select(caveat => caveat.Name).Distinct();

    private static void Write(Stream stream, IEnumerable<string> names, IEnumerable<object?[]> rows)
    {
        using var writer = new StreamWriter(stream, new UTF8Encoding(encoderShouldEmitUTF8Identifier: false), leaveOpen: true);
        using var csv = new CsvWriter(writer, Rfc4180);
        foreach (var name in names)
        {
            csv.WriteField(name);
        }

        csv.NextRecord();
        foreach (var row in rows)
        {
            foreach (var field in row)
            {
                csv.WriteField(field);
            }

            csv.NextRecord();
        }
    }

    // Of each of the speeds it settles at, the fastest first.
    private static string Several(ResultRow row, Func<Speed, IFormattable> part)
        => string.Join(' ', row.Cell.Speeds.Select(speed => part(speed).ToString(null, CultureInfo.InvariantCulture)));

    private static object?[] Parts(Interval? interval) => interval is not { IsKnown: true } known ? [null, null, null, null] :
    [
        Finite(known.Estimate), Finite(known.Lower), Finite(known.Upper), known.Bound == Bound.None ? "" : known.Bound.ToString(),
    ];

    private static double? Finite(double value) => double.IsFinite(value) ? value : null;

    private static string Safe(string name)
        => name.Length > 0 && FormulaSigns.Contains(name[0], StringComparison.Ordinal) ? $"'{name}" : name;
}
