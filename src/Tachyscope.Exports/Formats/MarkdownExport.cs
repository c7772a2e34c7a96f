using System.Text;
using Tachyscope.Reports.Histories;
using Tachyscope.Reports.Overviews;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Exports.Formats;

/// <summary>Writes decisions and tables as Markdown with pipe tables, for a pull request or a wiki.</summary>
internal static class MarkdownExport
{
    private const string Active = "\\`*_{}[]()#+-!|<>~";

    public static void Write(Export export, Stream stream)
    {
        using var writer = new StreamWriter(stream, new UTF8Encoding(encoderShouldEmitUTF8Identifier: false),
            leaveOpen: true) { NewLine = "\n" };
        if (export.Gate.Count > 0)
        {
            var closing = export.Gate.Where(judged => judged.IsFailure).ToList();
            writer.WriteLine($"## Gate {(closing.Count > 0 ? "closed" : "open")}");
            writer.WriteLine();
            foreach (var (judged, text) in closing.SelectMany(judged => GateReporter.Objections(judged)
                .Select(objection => (judged, objection.Text))))
            {
                writer.WriteLine($"- {Text($"{judged.Cell.Study} · {judged.Cell.Variant} · {judged.Cell.Input} {text}")}");
            }

            writer.WriteLine(closing.Count > 0 ? "" : $"None of {export.Gate.Count} cells objects.\n");
        }

        if (RunReporter.Summary(export.Found) is { } summary)
        {
            writer.WriteLine("## All studies");
            writer.WriteLine();
            Table(writer, [summary.Of, .. summary.Headings], summary.Rows.Select(row => (string[])[row.Name, .. row.Figures]),
                isNumbers: false);
        }

        foreach (var (record, found) in export.Run.Studies.Zip(export.Found))
        {
            var report = StudyReporter.ReportTargets(export.Run, found, record.Note, ReportOptions.Default).First();
            writer.WriteLine($"## {Text(report.Study)}");
            writer.WriteLine();
            foreach (var sentence in report.Conclusion)
            {
                writer.WriteLine(Text(sentence.Text));
            }

            writer.WriteLine();
            foreach (var table in report.Overview is { } overview ? [overview] : report.TargetTables)
            {
                Table(writer, [table.Title, .. table.Columns, ""], table.Rows.Select(row => (string[])
                [
                    row.Variant, .. row.Cells.Select(Cell), row.Remark,
                ]), isNumbers: true);
            }

            foreach (var line in report.Failures.Concat(report.Guests).Concat(report.Note is null ? [] : [report.Note])
                .Concat(report.Doubts.Select(doubt => doubt.Statement)))
            {
                writer.WriteLine($"- {Text(line)}");
            }

            writer.WriteLine();
        }

        foreach (var line in RunReporter.Ground(export.Run, export.Found))
        {
            writer.WriteLine($"- {Text(line)}");
        }

        if (export.Run.Command is { } command)
        {
            var fence = command.Contains('`', StringComparison.Ordinal) ? "``" : "`";
            writer.WriteLine($"- measured again by {fence}{command.ReplaceLineEndings(" ")}{fence}");
        }
    }

    private static string Cell(OverviewCell? cell) => cell is null ? ""
        : $"{cell.Sign} {cell.Figure} {cell.Reach}{(cell.Bytes.Length == 0 ? "" : $", {cell.Bytes}")}".Trim();

    private static void Table(StreamWriter writer, string[] headings, IEnumerable<string[]> rows, bool isNumbers)
    {
        writer.WriteLine($"| {string.Join(" | ", headings.Select(Text))} |");
        writer.WriteLine($"|{string.Concat(headings.Select((_, column) => column == 0 || !isNumbers ? " --- |" : " ---: |"))}");
        foreach (var row in rows)
        {
            writer.WriteLine($"| {string.Join(" | ", row.Select(Text))} |");
        }

        writer.WriteLine();
    }

    // A name is text and no markup; a line break would end its row.
    private static string Text(string text)
    {
        var written = new StringBuilder();
        foreach (var rune in text.EnumerateRunes())
        {
            written.Append(!Protocol.ProtocolText.IsVisible(rune) ? " "
                : rune.Value == '<' ? "&lt;"
                : rune.IsAscii && Active.Contains((char)rune.Value, StringComparison.Ordinal)
                    && rune.Value is not ('-' or '(' or ')' or '+' or '!') ? $"\\{rune}"
                : rune.ToString());
        }

        return written.ToString();
    }
}
