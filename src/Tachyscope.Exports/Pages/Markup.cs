using System.Net;
using Tachyscope.Protocol;
using Tachyscope.Reports.Overviews;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Exports.Pages;

/// <summary>Tables and text as HTML. Pure.</summary>
internal static class Markup
{
    /// <summary>Text; what turns it round or moves it is shown and does nothing.</summary>
    public static string Html(string text)
        => WebUtility.HtmlEncode(string.Concat(text.EnumerateRunes()
            .Select(rune => ProtocolText.IsVisible(rune) ? rune.ToString() : $"‹U+{rune.Value:X4}›")));

    /// <summary>A table in a part of the page that is scrolled, with the keyboard too.</summary>
    public static string Scrolled(string label, string inside, string kind = "wide")
        => $"<div class=\"{kind}\" tabindex=\"0\" role=\"region\" aria-label=\"{Html(label)}\">{inside}</div>";

    public static string Heads(IEnumerable<string> headings)
        => string.Concat(headings.Select(heading => $"<th scope=\"col\">{Html(heading)}</th>"));

    /// <summary>All inputs, or targets, of a study.</summary>
    public static string Of(OverviewTable table)
        => Scrolled(table.Title.Length == 0
            ? "at a glance"
            : table.Title, Table("", [table.Title, .. table.Columns, ""], table.Rows.Select(row =>
            (row.Variant, string.Concat(row.Cells.Select(Cell)) + $"<td>{Html(row.Remark)}</td>"))));

    /// <summary>One input of a study.</summary>
    public static string Of(StudyTable table)
    {
        int[] shown = [.. Enumerable.Range(0, table.Columns.Count).Where(column => table.Columns[column].Kind != ColumnKind.Marks)];
        return Scrolled(table.Input,
            Table("", ["variant", .. shown.Select(column => table.Columns[column].Heading)], table.Rows.Select(row =>
            (row.Variant, string.Concat(shown.Select(column => table.Columns[column].Kind == ColumnKind.Verdict
                ? $"<td class=\"{Class(row.Tone)}\">{Html(row.Verdict)}</td>"
                : $"<td>{Html(row.Figures[column])}</td>"))))));
    }

    /// <summary>Figures under a caption; words read from the left and need none.</summary>
    public static string Of(FigureTable table, bool isWords)
        => Scrolled(table.Title, Table(isWords ? "" : $"<caption>{Html(table.Title)}</caption>", [table.Of, .. table.Headings],
            table.Rows.Select(row => (row.Name, string.Concat(row.Figures.Select(figure => $"<td>{Html(figure)}</td>"))))),
            isWords ? "wide words" : "wide");

    /// <summary>How a tone is coloured.</summary>
    public static string Class(Tone tone) => tone switch
    {
        Tone.Good => "good",
        Tone.Bad => "bad",
        Tone.Open or Tone.Failed => "open",
        _ => "even",
    };

    private static string Table(string caption, IEnumerable<string> headings, IEnumerable<(string Name, string Cells)> rows)
        => $"<table>{caption}<thead><tr>{Heads(headings)}</tr></thead><tbody>"
            + string.Concat(rows.Select(row => $"<tr><th scope=\"row\">{Html(row.Name)}</th>{row.Cells}</tr>\n"))
            + "</tbody></table>";

    private static string Cell(OverviewCell? cell)
    {
        if (cell is null)
        {
            return "<td></td>";
        }

        var bytes = cell.Bytes.Length == 0 ? "" : $"<br><span class=\"reach\">{Html(cell.Bytes)}</span>";
        var figure = $"{cell.Sign}{(cell.IsDoubted ? "!" : "")} {cell.Figure}";
        return $"<td><span class=\"{Class(cell.Tone)}\">{Html(figure)}</span> <span class=\"reach\">{Html(cell.Reach)}</span>{bytes}</td>";
    }
}
