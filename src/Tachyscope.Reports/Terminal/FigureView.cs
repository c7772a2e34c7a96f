using System.Text;
using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows a table of figures; columns that do not fit beside each other go below.</summary>
public static class FigureView
{
    private const int Indent = 2;
    private const int Gap = 2;
    private const int LongestName = 40;
    private const int LongestHeading = 16;

    private static readonly Style Dim = new(decoration: Decoration.Dim);

    /// <summary>Writes a table that stands by itself.</summary>
    /// <param name="table">The table.</param>
    /// <param name="console">Where to.</param>
    public static void Write(FigureTable table, IAnsiConsole console)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(console);
        console.Write(new Rows([new Text(table.Title, new Style(decoration: Decoration.Bold)),
            .. Lines(table with { Title = table.Of }, console.Profile.Width), Text.Empty]));
    }

    /// <summary>The lines of a table that stands under another; its title heads the first column.</summary>
    internal static IEnumerable<IRenderable> Lines(FigureTable table, int width)
    {
        var isPlain = width >= TerminalConsole.PlainWidth;
        if (!isPlain && table.Title.GetCellWidth() > LongestName && table.Title != table.Of)
        {
            yield return new Text($"{new string(' ', Indent)}{Cells.Shortened(table.Title, width - Indent)}", Dim);
            table = table with { Title = table.Of };
        }

        var name = Math.Min(isPlain ? width : LongestName, Widest(table.Rows.Select(row => row.Name).Append(table.Title)));
        var room = width - Indent - name - Gap;
        var isSqueezed = table.AreHeadingsNames && !isPlain && Needed(table, table.Headings) > room;
        string[] headings = [.. table.Headings.Select(heading => isSqueezed ? Cells.Squeezed(heading, LongestHeading) : heading)];
        int[] widths = [.. headings.Select((heading, column) => Widest(table.Rows.Select(row => row.Figures[column]).Append(heading)))];
        for (var first = 0; first < widths.Length;)
        {
            var last = LastThatFits(widths, first, room);
            yield return Line(table.Title, headings, Dim);
            foreach (var row in table.Rows)
            {
                yield return Line(row.Name, row.Figures, Style.Plain);
            }

            first = last + 1;

            Paragraph Line(string of, IReadOnlyList<string> figures, Style style)
            {
                var line = new StringBuilder(new string(' ', Indent)).Append(Cells.Padded(Cells.Squeezed(of, name), name));
                for (var column = first; column <= last; column++)
                {
                    var text = Cells.Shortened(figures[column], Math.Max(8, width - Indent - name - Gap));
                    // A single column of words reads from the left.
                    var blank = Math.Max(0, widths[column] - text.GetCellWidth());
                    var isLeft = widths.Length == 1 || table.AreFiguresWords;
                    line.Append(' ', Gap).Append(' ', isLeft ? 0 : blank).Append(text).Append(' ', isLeft ? blank : 0);
                }

                return new Paragraph(line.ToString().TrimEnd(), style);
            }
        }
    }

    private static int Needed(FigureTable table, IReadOnlyList<string> headings)
        => headings.Select((heading, column) => Gap + Widest(table.Rows.Select(row => row.Figures[column]).Append(heading))).Sum();

    private static int LastThatFits(int[] widths, int first, int room)
    {
        var last = first;
        var taken = widths[first] + Gap;
        while (last + 1 < widths.Length && taken + widths[last + 1] + Gap <= room)
        {
            taken += widths[++last] + Gap;
        }

        return last;
    }

    private static int Widest(IEnumerable<string> texts) => texts.Max(text => text.GetCellWidth());
}
