using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows a study in a terminal: its tables, the ground under them, and the caveats.</summary>
public static class StudyView
{
    private static readonly Style Dim = new(decoration: Decoration.Dim);
    private static readonly Style Strong = new(decoration: Decoration.Bold);
    private static readonly Style Doubt = new(Color.DarkOrange3);

    /// <summary>Writes the report of a study, as one piece.</summary>
    /// <param name="report">The report.</param>
    /// <param name="console">Where to.</param>
    public static void Write(StudyReport report, IAnsiConsole console)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(console);
        console.Write(new Rows(Lines(report, console.Profile.Width)));
    }

    /// <summary>The tables so far of a study that is still being measured, for a watcher; null when they do not fit.</summary>
    /// <param name="report">The report so far.</param>
    /// <param name="width">Columns there are.</param>
    /// <param name="height">Lines there are.</param>
    public static IRenderable? Provisional(StudyReport report, int width, int height)
    {
        ArgumentNullException.ThrowIfNull(report);
        IRenderable[] lines = [new Text($"{report.Study}, so far", Strong), .. AtAGlance(report, width),
            .. report.Answers.SelectMany(table => FigureView.Lines(table, width))];
        return lines.Length <= height ? new Rows(lines) : null;
    }

    private static IEnumerable<IRenderable> Lines(StudyReport report, int width)
        => (width >= TerminalConsole.PlainWidth ? Statements(report, width) : Head(report, width).Concat(AtAGlance(report, width))
            .Concat(Doubts(report, width)))
            .Concat(Asked(report, width)).Append(Text.Empty);

    // The decision on the line of the name.
    private static IEnumerable<IRenderable> Head(StudyReport report, int width)
    {
        yield return WrappedText.Set(width, 0, [(report.Study, Strong)], report.Conclusion.Count == 0 ? ""
            : $" {report.Conclusion[0].Text}", Style.Plain);
        foreach (var sentence in report.Conclusion.Skip(1))
        {
            yield return WrappedText.Set(width, [], sentence.Text, Style.Plain);
        }
    }

    // One table: of its intervals, drawn, where there is one input; of all inputs else.
    private static IEnumerable<IRenderable> AtAGlance(StudyReport report, int width)
        => report.Tables is [{ Rows.Count: > 0 } single]
            ? Table(single with { Figures = [] }, new TableFit(report.Tables, width, single.Input), width, single.Input)
            : report.Overview is { } overview ? OverviewView.Lines(overview, width)
            : report.TargetTables.SelectMany(table => OverviewView.Lines(table, width));

    private static IEnumerable<IRenderable> Doubts(StudyReport report, int width)
    {
        foreach (var failure in report.Failures)
        {
            yield return WrappedText.Set(width, [(Tone.Failed.Sign(), StyleOf(Tone.Failed))], failure, Style.Plain);
        }

        foreach (var guest in report.Guests)
        {
            yield return WrappedText.Set(width, [("made by", StyleOf(Tone.Aside))], guest, Style.Plain);
        }

        if (report.Note is not null)
        {
            yield return WrappedText.Set(width, [("note", Doubt)], report.Note, Style.Plain);
        }

        foreach (var doubt in report.Doubts)
        {
            yield return WrappedText.Set(
                width, [doubt.IsNote ? ("note", Dim) : ("!", Doubt), (doubt.Caveat, Strong)], doubt.About, Style.Plain);
        }
    }

    private static IEnumerable<IRenderable> Statements(StudyReport report, int width)
    {
        string[] lines =
        [
            .. report.Conclusion.Select(sentence => $"{report.Study}: {sentence.Text}"),
            .. report.Overview is { } overview ? OverviewView.Statements(report.Study, overview) : [],
            .. report.TargetTables.SelectMany(table => OverviewView.Statements(table.Title.Length == 0 ? report.Study
                : $"{report.Study} · {table.Title}", table)),
            .. report.Failures.Select(failure => $"{report.Study} · {Tone.Failed.Sign()} {failure}"),
            .. report.Guests.Select(guest => $"{report.Study} · made by: {guest}"),
            .. report.Note is null ? [] : (string[])[$"{report.Study} · note: {report.Note}"],
            .. report.Doubts.Select(doubt => $"{report.Study} · {doubt.Statement}"),
        ];
        return lines.DefaultIfEmpty(report.Study).Select(line => WrappedText.Set(width, 0, [], line, Style.Plain));
    }

    // The blocks that were asked for.
    private static IEnumerable<IRenderable> Asked(StudyReport report, int width)
    {
        var fit = new TableFit(report.Tables, width);
        var isGiven = report.Tables.Count == 1 && (width < TerminalConsole.PlainWidth || !report.AreTablesAsked);
        foreach (var line in report.Tables.SelectMany(table => isGiven
            ? table.Figures.SelectMany(figures => FigureView.Lines(figures, width))
            : Lines(report.Study, table, fit, width)))
        {
            yield return line;
        }

        foreach (var line in report.Charts.SelectMany(chart => ChartView.Lines(chart, width)))
        {
            yield return line;
        }

        foreach (var line in report.Answers.SelectMany(table => FigureView.Lines(table, width).Append(Text.Empty)))
        {
            yield return line;
        }

        foreach (var line in report.Checks.SelectMany(table => FigureView.Lines(table, width)))
        {
            yield return line;
        }

        foreach (var remark in report.Remarks.Prepend(report.Environment).Where(line => line.Length > 0))
        {
            yield return WrappedText.Set(width, [], remark, Dim);
        }

        foreach (var caveat in report.Caveats)
        {
            var subject = caveat.Subject is null ? "" : $"{caveat.Subject}: ";
            var text = $"– {subject}{caveat.Evidence}. Way out: {caveat.WayOut}.";
            yield return WrappedText.Set(width, [("caveat", Doubt), (caveat.Name, Strong)], text, Style.Plain);
        }
    }

    private static IEnumerable<IRenderable> Lines(string study, StudyTable table, TableFit fit, int width)
    {
        yield return new Paragraph().Append(study, Strong).Append($" · {table.Input}");
        foreach (var line in Table(table, fit, width, "variant"))
        {
            yield return line;
        }

        yield return Text.Empty;
    }

    private static IEnumerable<IRenderable> Table(StudyTable table, TableFit fit, int width, string title)
    {
        if (table.Rows.Count > 0)
        {
            // Where nothing is wrapped, whoever looks for a line finds its input in it.
            var input = width >= TerminalConsole.PlainWidth ? table.Input : "";
            yield return Heading(table, fit, input.Length > 0 ? "input" : "", title);
            foreach (var row in table.Rows)
            {
                yield return Row(row, table, fit, input);
            }
        }

        if (fit.Below.Count > 0)
        {
            var below = new FigureTable
            {
                Title = "variant", Of = "variant", Headings = [.. fit.Below.Select(column => table.Columns[column].Heading)],
                Rows = [.. table.Rows.Select(row => new FigureRow(row.Variant, [.. fit.Below.Select(column => row.Figures[column])]))],
            };
            foreach (var line in FigureView.Lines(below, width))
            {
                yield return line;
            }
        }

        foreach (var line in table.Figures.SelectMany(figures => FigureView.Lines(figures, width)))
        {
            yield return line;
        }
    }

    private static Paragraph Heading(StudyTable table, TableFit fit, string input, string title)
    {
        var line = new Paragraph(new string(' ', TableFit.Indent)).Append(Cells.Padded(Cells.Squeezed(title, fit.Name), fit.Name), Dim);
        foreach (var column in fit.Shown)
        {
            var text = table.Columns[column].Kind switch
            {
                ColumnKind.Marks => table.Scale is { } scale ? MarkLine.Ends(scale, fit.Marks) : "",
                _ => fit.Heading(column),
            };
            var isLast = column == fit.Shown[^1] && input.Length == 0;
            Append(line, text, isLast ? 0 : fit.Width(column), table.Columns[column].Kind == ColumnKind.Figure, Dim);
        }

        return input.Length == 0 ? line : line.Append($"  {input}", Dim);
    }

    private static Paragraph Row(StudyRow row, StudyTable table, TableFit fit, string input)
    {
        var style = StyleOf(row.Tone);
        var line = new Paragraph(new string(' ', TableFit.Indent))
            .Append(Cells.Padded(Cells.Squeezed(row.Variant, fit.Name), fit.Name), row.Tone == Tone.Reference ? Strong : Style.Plain);
        foreach (var column in fit.Shown)
        {
            var isLast = column == fit.Shown[^1] && input.Length == 0;
            switch (table.Columns[column].Kind)
            {
                case ColumnKind.Marks:
                    AppendMark(line, table.Scale is { } scale
                        && row.Tone != Tone.Aside ? MarkLine.Draw(row.Marks, scale, fit.Marks) : "", fit.Marks, style);
                    break;
                case ColumnKind.Verdict:
                    Append(line, $"{row.Tone.Sign()} {row.Verdict}", isLast ? 0 : fit.Width(column), isRight: false, style);
                    break;
                default:
                    Append(line, fit.Text(row, column), fit.Width(column), isRight: true, Style.Plain);
                    break;
            }
        }

        return input.Length == 0 ? line : line.Append($"  {input}");
    }

    // The baseline's guide belongs to no row and takes no row's colour.
    private static void AppendMark(Paragraph line, string marks, int width, Style style)
    {
        line.Append(new string(' ', TableFit.Gap));
        foreach (var character in marks)
        {
            line.Append(character.ToString(), character == MarkLine.Guide ? Dim : style);
        }

        line.Append(new string(' ', width - marks.Length));
    }

    private static void Append(Paragraph line, string text, int width, bool isRight, Style style)
    {
        var blank = new string(' ', Math.Max(0, width - text.GetCellWidth()));
        line.Append(new string(' ', TableFit.Gap)).Append(isRight ? blank : text, style).Append(isRight ? text : blank, style);
    }

    /// <summary>How a tone is shown, beside its sign.</summary>
    internal static Style StyleOf(Tone tone) => tone switch
    {
        Tone.Good => new Style(Color.Green),
        Tone.Bad => new Style(Color.Red),
        Tone.Open => Doubt,
        Tone.Failed => new Style(Color.Red, decoration: Decoration.Bold),
        _ => Style.Plain,
    };
}
