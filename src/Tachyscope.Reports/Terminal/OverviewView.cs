using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Reports.Overviews;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows a study in one table: as much of each cell as there is room for, and columns below each other where there is
/// none.</summary>
internal static class OverviewView
{
    private const int Indent = 2;
    private const int Gap = 2;
    private const int LongestName = 34;
    private const int ShortName = 18;
    private const int LongestHeading = 20;

    private static readonly Style Dim = new(decoration: Decoration.Dim);
    private static readonly Style Strong = new(decoration: Decoration.Bold);

    // From all there is to the factor alone.
    private static readonly (bool HasReach, bool HasBytes, bool HasBytesColumn)[] Forms =
        [(true, true, false), (true, false, true), (true, false, false), (false, false, true), (false, false, false)];

    private static readonly (bool HasReach, bool HasBytes, bool HasBytesColumn) Narrow = Forms[^1];

    /// <summary>The table's lines for a terminal.</summary>
    public static IEnumerable<IRenderable> Lines(OverviewTable table, int width)
    {
        var longest = Math.Min(LongestName, table.Rows.Select(row => row.Variant.GetCellWidth()).Append(table.Title.GetCellWidth()).Max());
        var remark = table.Rows.Max(row => row.Remark.GetCellWidth()) is > 0 and var widest ? Gap + widest : 0;
        bool Fits((bool, bool, bool) form, int name, int first, int count, int beside)
            => Indent + name + Columns(table, form, first, count).Sum(column => column.Width + Gap) + beside <= width;
        foreach (var name in (int[])[longest, Math.Min(longest, ShortName)])
        {
            if (Array.FindIndex(Forms, form => Fits(form, name, 0, table.Columns.Count, remark)) is >= 0 and var fitting)
            {
                return Lines(table, Columns(table, Forms[fitting], 0, table.Columns.Count), name, isLast: true);
            }
        }

        // Below each other; what belongs to the whole row stands once.
        var lines = new List<IRenderable>();
        var shortened = Math.Min(longest, ShortName);
        for (var first = 0; first < table.Columns.Count;)
        {
            var left = table.Columns.Count - first;
            var isLast = Fits(Narrow, shortened, first, left, remark);
            var count = isLast ? left : 1;
            while (!isLast && count + 1 < left && Fits(Narrow, shortened, first, count + 1, 0))
            {
                count++;
            }

            lines.AddRange(Lines(table, Columns(table, Narrow, first, count), shortened, isLast || count == left));
            first += count;
        }

        return lines;
    }

    /// <summary>The same as statements, one a line, for whoever looks for one.</summary>
    public static IEnumerable<string> Statements(string study, OverviewTable table)
        => table.Rows.Select(row => string.Join(" · ", (string[])
        [
            study, row.Variant, .. row.Remark.Length == 0 ? [] : (string[])[row.Remark],
            .. table.Columns.Zip(row.Cells).Where(pair => pair.Second is not null)
                .Select(pair => $"{pair.First}: {Statement(pair.Second!)}"),
        ]));

    private static string Statement(OverviewCell cell)
    {
        var isCompared = cell.Figure != cell.Time && cell.Figure != cell.Verdict;
        string[] parts =
        [
            isCompared || cell.Time.Length == 0
                ? $"{cell.Tone.Sign()} {cell.Verdict}{(isCompared ? $" {cell.Figure} {cell.Reach}".TrimEnd() : "")}" : "",
            isCompared ? cell.Time : cell.Time.Length == 0 ? "" : $"{cell.Time} {cell.Reach}".TrimEnd(),
            cell.Bytes,
            cell.IsDoubted ? "doubtful" : "",
        ];
        return string.Join(", ", parts.Where(part => part.Length > 0));
    }

    private sealed record Column(string Heading,
        IReadOnlyList<(string Sign, string Figure, string Reach, string Bytes, Style Style)?> Cells)
    {
        private int Sign => Cells.Max(cell => cell?.Sign.Length ?? 0);

        private int Figure => Widest(cell => cell.Figure);

        private int Reach => Widest(cell => cell.Reach);

        private int Bytes => Widest(cell => cell.Bytes);

        private int Content => Sign + Figure + (Reach == 0 ? 0 : 1 + Reach) + (Bytes == 0 ? 0 : Gap + Bytes);

        public int Width => Math.Max(Content, Heading.GetCellWidth());

        public void AppendHeading(Paragraph line)
            => line.Append(new string(' ', Gap + Width - Heading.GetCellWidth())).Append(Heading, Dim);

        public void Append(Paragraph line, int row)
        {
            line.Append(new string(' ', Gap + Width - Content));
            if (Cells[row] is not { } cell)
            {
                line.Append(new string(' ', Content));
                return;
            }

            line.Append(cell.Sign.PadRight(Sign), cell.Style).Append(Blank(Figure, cell.Figure) + cell.Figure, cell.Style);
            if (Reach > 0)
            {
                line.Append($" {cell.Reach}{Blank(Reach, cell.Reach)}", Dim);
            }

            if (Bytes > 0)
            {
                line.Append(new string(' ', Gap) + Blank(Bytes, cell.Bytes) + cell.Bytes);
            }
        }

        private static string Blank(int width, string text) => new(' ', width - text.GetCellWidth());

        private int Widest(Func<(string Sign, string Figure, string Reach, string Bytes, Style Style), string> part)
            => Cells.Max(cell => cell is { } there ? part(there).GetCellWidth() : 0);
    }

    private static List<Column> Columns(OverviewTable table, (bool HasReach, bool HasBytes, bool HasBytesColumn) form, int first, int count)
    {
        var areBytesBeside = form.HasBytes && table.DoBytesVary;
        var columns = Enumerable.Range(first, count).Select(column => new Column(
            Cells.Squeezed(table.Columns[column], LongestHeading),
            [.. table.Rows.Select(row => row.Cells[column] is not { } cell ? ((string, string, string, string, Style)?)null : (
                $"{(cell.Sign.Length == 0 ? " " : cell.Sign)}{(cell.IsDoubted ? "! " : " ")}", cell.Figure,
                form.HasReach ? cell.Reach : "", areBytesBeside ? cell.Bytes : "",
                StudyView.StyleOf(cell.Tone)))])).ToList();
        if (!areBytesBeside && (form.HasBytesColumn || form.HasBytes) && table.Rows.Any(row => row.Bytes.Length > 0))
        {
            columns.Add(new Column("bytes/call",
                [.. table.Rows.Select(row => ((string, string, string, string, Style)?)("", row.Bytes, "", "", Style.Plain))]));
        }

        return columns;
    }

    private static IEnumerable<IRenderable> Lines(OverviewTable table, List<Column> columns, int name, bool isLast)
    {
        var heading = new Paragraph(new string(' ', Indent)).Append(Cells.Padded(Cells.Squeezed(table.Title, name), name), Dim);
        columns.ForEach(column => column.AppendHeading(heading));
        yield return heading;
        for (var row = 0; row < table.Rows.Count; row++)
        {
            var (variant, remark) = (table.Rows[row].Variant, table.Rows[row].Remark);
            var line = new Paragraph(new string(' ', Indent))
                .Append(Cells.Padded(Cells.Squeezed(variant, name), name), remark.Contains("take", StringComparison.Ordinal) ? Strong
                    : Style.Plain);
            columns.ForEach(column => column.Append(line, row));
            yield return remark.Length == 0 || !isLast ? line : line.Append(new string(' ', Gap)).Append(remark, Dim);
        }
    }
}
