using System.Globalization;
using System.IO.Compression;
using Tachyscope.Analysis.Findings;
using Tachyscope.Exports.Charts;
using Tachyscope.Exports.Formats;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Overviews;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;
using static Tachyscope.Exports.Pages.Markup;

namespace Tachyscope.Exports.Pages;

/// <summary>Writes a run as one page that holds all it needs: opened from disk, with no network.</summary>
internal sealed class PageExport
{
    // Beyond it the page would take its time to open.
    private const int MostReadings = 100_000;
    private const int MostReadingsBytes = 1_300_000;
    private const int MostOpenPoints = 150;
    private const int StudiesNamed = 3;

    private static readonly ReportOptions Everything = new() { Shown = Blocks.All };

    private readonly Export _export;
    private readonly PageFrame _frame = new();

    private PageExport(Export export) => _export = export;

    public static void Write(Export export, Stream stream)
    {
        var page = new PageExport(export);
        page.Write();
        page._frame.WriteTo(stream);
    }

    private void Write()
    {
        var run = _export.Run;
        var more = run.Studies.Count > StudiesNamed ? " and more" : "";
        var title = $"Measured: {string.Join(", ", run.Studies.Take(StudiesNamed).Select(study => study.Study.Name))}{more}";
        string[] ground =
        [
            run.Started.ToString("yyyy-MM-dd HH:mm 'UTC'", CultureInfo.InvariantCulture), run.Machine.Processor, run.Environment.Runtime,
            .. run.State == RunState.Complete ? [] : (string[])["not finished"],
        ];
        _frame.Begin(title, string.Join(" · ", ground));
        WriteSummary();
        for (var index = 0; index < _export.Found.Count; index++)
        {
            WriteStudy(index);
        }

        WriteResults();
        WriteReading();
        Line("</main>");
        WriteFooter();
        _frame.End();
    }

    private void WriteSummary()
    {
        if (RunReporter.Summary(_export.Found) is { } summary)
        {
            Line("<section aria-labelledby=\"all\"><h2 id=\"all\">All studies</h2>");
            Line(Markup.Of(summary, isWords: true));
            Line("</section>");
        }
    }

    private void WriteResults()
    {
        ResultRow[] rows = [.. ResultRow.Of(_export)];
        var hasTargets = _export.Run.Targets.Count > 1;
        Line("<section aria-labelledby=\"every\"><h2 id=\"every\">Every result</h2><div class=\"filters\">");
        Line("<label>find<input data-filter=\"text\" type=\"search\"></label>");
        Choice("study", rows.Select(row => row.Study.Study.Name));
        Choice("input", rows.Select(row => row.Input.Input.Label));
        if (hasTargets)
        {
            Choice("target", rows.Select(row => row.Target));
        }

        Line($"</div><p class=\"faint\" id=\"count\" role=\"status\">{rows.Length} of {rows.Length} rows</p>");
        Line("<div class=\"wide\" tabindex=\"0\" role=\"region\" aria-label=\"Every result\">");
        string[] headings =
            ["study", .. hasTargets ? ["target"]
                : (string[])[], "input", "variant", "time per call", "baseline's time", "bytes", "verdict", "caveats"];
        var heads = string.Concat(headings.Select(heading => $"<th scope=\"col\"><button type=\"button\">{Html(heading)}</button></th>"));
        Line($"<table id=\"results\"><thead><tr>{heads}</tr></thead><tbody>");
        foreach (var row in rows)
        {
            WriteResult(row, hasTargets);
        }

        Line("</tbody></table></div></section>");
    }

    private void WriteResult(ResultRow row, bool hasTargets)
    {
        var (cell, isTimed) = (row.Cell, row.Cell.Failure is null);
        string[] cells =
        [
            Long(row.Study.Study.Name), .. hasTargets ? [Long(row.Target)]
                : (string[])[], Long(row.Input.Input.Label), Long(cell.Variant.Name),
            Number(isTimed ? cell.NanosecondsPerCall.Estimate : double.NaN, isTimed ? Reached(SpeedText.Time(cell)) : ""),
            Number(cell.Contrast?.TimeRatio.Estimate ?? (cell.Variant.IsBaseline ? 1 : double.NaN),
                cell.Contrast is { } contrast ? Reached(SpeedText.Factor(contrast)) : cell.Variant.IsBaseline ? "baseline" : ""),
            Number(isTimed ? cell.AllocatedBytesPerCall : double.NaN, isTimed ? Html(Quantity.Bytes(cell.AllocatedBytesPerCall)) : ""),
            $"<td class=\"{Class(row.Verdict)}\">{Html(row.Verdict)}</td>", Long(string.Join(", ", CsvExport.Caveats(row))),
        ];
        Line($"<tr data-study=\"{Html(row.Study.Study.Name)}\" data-input=\"{Html(row.Input.Input.Label)}\"");
        Line($"  data-target=\"{Html(row.Target)}\">");
        Line($"{string.Concat(cells)}</tr>");
    }

    private void WriteStudy(int index)
    {
        var (record, found) = (_export.Run.Studies[index], _export.Found[index]);
        StudyReport[] reports = [.. StudyReporter.ReportTargets(_export.Run, found, record.Note, Everything)];
        var main = reports[0];
        Line($"<section data-study=\"{Html(record.Study.Name)}\" aria-labelledby=\"s{index}\">");
        Line($"<h2 id=\"s{index}\">{Html(record.Study.Name)}</h2>");
        foreach (var (sentence, place) in main.Conclusion.Select((sentence, place) => (sentence.Text, place)))
        {
            Line($"<p{(place == 0 ? " class=\"decision\"" : "")}>{Html(sentence)}</p>");
        }

        if (main.Note is not null)
        {
            Line($"<p class=\"open\">Note: {Html(main.Note)}</p>");
        }

        foreach (var table in main.Overview is { } overview ? [overview] : main.TargetTables)
        {
            Line(Markup.Of(table));
        }

        foreach (var failure in main.Failures)
        {
            Line($"<p class=\"failed\">✗ {Html(failure)}</p>");
        }

        foreach (var guest in main.Guests)
        {
            Line($"<p>made by: {Html(guest)}</p>");
        }

        WriteCaveats(main);
        // Those of one kind, one for each input, stand together.
        foreach (var kind in ChartReporter.Of(_export.Run, record, found).GroupBy(chart => chart.Name))
        {
            Chart[] charts = [.. kind];
            if (charts.Length == 1)
            {
                _frame.Draw(charts[0], isOpen: kind.Key == ChartReporter.Names[0]
                    && charts[0].Series.Sum(series => series.Points.Count) <= MostOpenPoints);
                continue;
            }

            Line($"<details><summary>{Html(charts[0].Title.Split(',')[0])}, {charts.Length} figures</summary>");
            foreach (var chart in charts)
            {
                _frame.Draw(chart, isOpen: false);
            }

            Line("</details>");
        }

        if (_export.Codes.TryGetValue(record.Study.Name, out var code))
        {
            CodePage.WriteFolded(code, _frame);
        }

        Line("<details><summary>All figures in tables</summary>");
        foreach (var report in reports)
        {
            foreach (var table in report.Tables)
            {
                Line($"<h3>{Html(report.Study)} · {Html(table.Input)}</h3>");
                Line(Markup.Of(table));
                table.Figures.ToList().ForEach(figures => Line(Markup.Of(figures, isWords: false)));
            }

            report.Answers.Concat(report.Checks).ToList().ForEach(table => Line(Markup.Of(table, isWords: false)));
            Line($"<ul>{string.Concat(report.Remarks.Prepend(report.Environment).Select(remark => $"<li>{Html(remark)}</li>"))}</ul>");
        }

        Line("</details></section>");
    }

    private void WriteCaveats(StudyReport report)
    {
        if (report.Caveats.Count > 0)
        {
            string[] kinds = [Counted(report.Caveats, isNote: false), Counted(report.Caveats, isNote: true)];
            Line($"<details><summary>{Html(string.Join("; ", kinds.Where(kind => kind.Length > 0)))}</summary><ul>");
            foreach (var caveat in report.Caveats)
            {
                var subject = caveat.Subject is null ? "" : $"– {caveat.Subject}: ";
                Line($"<li><strong>{Html(caveat.Name)}</strong> {Html($"{subject}{caveat.Evidence}. Way out: {caveat.WayOut}.")}</li>");
            }

            Line("</ul></details>");
        }
    }

    private static string Counted(IReadOnlyList<Caveat> caveats, bool isNote)
    {
        string[] names = [.. caveats.Where(caveat => caveat.IsNote == isNote).Select(caveat => caveat.Name)];
        var kind = isNote ? "note" : "caveat";
        return names.Length == 0 ? "" : $"{names.Length} {(names.Length == 1 ? kind : $"{kind}s")}: {string.Join(", ", names)}";
    }

    private void WriteReading()
    {
        Line("<section aria-labelledby=\"how\"><h2 id=\"how\">How to read it</h2><p>Times are those of a typical call after warming up.");
        Line("A factor says by what the baseline's time is divided (÷, faster) or multiplied (×, slower); what stands behind it is the");
        Line("reach of its interval, within which the truth lies with the stated confidence. “Same” is within the smallest difference");
        Line("that matters, “unclear” is what this run cannot decide.</p></section>");
    }

    private void WriteFooter()
    {
        Line("<footer>");
        foreach (var line in RunReporter.Ground(_export.Run, _export.Found))
        {
            Line($"<p>{Html(line)}</p>");
        }

        if (_export.Run.Command is { } command)
        {
            Line($"<p>Measured again by:</p><pre tabindex=\"0\"><code>{Html(command)}</code></pre>");
        }

        var count = _export.Run.Studies.Sum(study => study.Sittings.Sum(sitting => sitting.Readings.Count));
        if (count <= MostReadings && Readings() is { Length: <= MostReadingsBytes } readings)
        {
            Line($"<p><a download=\"readings.csv.gz\" href=\"data:application/gzip;base64,{Convert.ToBase64String(readings)}\">");
            Line("Every reading, as comma-separated values</a></p>");
        }
        else
        {
            Line("<p>There are too many readings to be in a page;");
            Line("<code>tachyscope report RUN --out readings.parquet</code> writes them.</p>");
        }

        Line("</footer>");
    }

    private byte[] Readings()
    {
        using var stream = new MemoryStream();
        using (var zipped = new GZipStream(stream, CompressionLevel.Optimal))
        {
            CsvExport.WriteReadings(_export, zipped);
        }

        return stream.ToArray();
    }

    private void Choice(string name, IEnumerable<string> values)
    {
        var options = string.Concat(values.Distinct().Select(value => $"<option value=\"{Html(value)}\">{Html(value)}</option>"));
        Line($"<label>{name}<select data-filter=\"{name}\"><option value=\"\">all</option>{options}</select></label>");
    }

    private static string Reached(string text)
    {
        var (figure, reach) = Quantity.Parts(text);
        return $"{Html(figure)} <span class=\"reach\">{Html(reach)}</span>";
    }

    private static string Number(double value, string html)
        => double.IsFinite(value) ? $"<td data-v=\"{value.ToString("R", CultureInfo.InvariantCulture)}\">{html}</td>"
            : $"<td data-v=\"NaN\">{html}</td>";

    private static string Long(string text) => $"<td class=\"long\">{Html(text)}</td>";

    private static string Class(string verdict)
        => verdict switch { "faster" => "good", "slower" => "bad", "" or "same" => "even", _ => "open" };

    private void Line(string html) => _frame.Line(html);
}
