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
        var fit = new TableFit(report.Tables, width);
        IRenderable[] lines =
        [
            .. report.Tables.SelectMany(table => Lines($"{report.Study}, so far", table with { Figures = [] }, fit, width)),
            .. report.Tables.Count > 0 ? (IRenderable[])[] : [new Text($"{report.Study}, so far", Strong), .. report.Answers.SelectMany(table => FigureView.Lines(table, width))],
        ];
        return lines.Length <= height ? new Rows(lines) : null;
    }

    private static IEnumerable<IRenderable> Lines(StudyReport report, int width)
    {
        yield return new Text(report.Study, Strong);
        foreach (var sentence in report.Conclusion.Select(sentence => sentence.Text))
        {
            yield return WrappedText.Set(width, [], sentence, Style.Plain);
        }

        yield return Text.Empty;
        var fit = new TableFit(report.Tables, width);
        foreach (var line in report.Tables.SelectMany(table => Lines(report.Study, table, fit, width)))
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

        yield return WrappedText.Set(width, [], report.Environment, Dim);
        foreach (var remark in report.Remarks)
        {
            yield return WrappedText.Set(width, [], remark, Dim);
        }

        if (report.Note is not null)
        {
            yield return WrappedText.Set(width, [("note", Doubt)], report.Note, Style.Plain);
        }

        foreach (var caveat in report.Caveats)
        {
            var subject = caveat.Subject is null ? "" : $"{caveat.Subject}: ";
            var text = $"– {subject}{caveat.Evidence}. Way out: {caveat.WayOut}.";
            yield return WrappedText.Set(width, [("caveat", Doubt), (caveat.Name, Strong)], text, Style.Plain);
        }

        yield return Text.Empty;
    }

    private static IEnumerable<IRenderable> Lines(string study, StudyTable table, TableFit fit, int width)
    {
        // Where nothing is wrapped, whoever looks for a line finds its input in it.
        var input = width >= TerminalConsole.PlainWidth ? table.Input : "";
        yield return new Paragraph().Append(study, Strong).Append($" · {table.Input}");
        yield return Heading(table, fit, input.Length > 0 ? "input" : "");
        var baseline = table.Rows.FirstOrDefault(row => row.Tone == Tone.Reference)?.Mark;
        foreach (var row in table.Rows)
        {
            yield return Row(row, table, baseline, fit, input);
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

        foreach (var failure in table.Failures)
        {
            yield return WrappedText.Set(width, [(Tone.Failed.Sign(), StyleOf(Tone.Failed))], failure, Style.Plain);
        }

        foreach (var line in table.Figures.SelectMany(figures => FigureView.Lines(figures, width)))
        {
            yield return line;
        }

        yield return Text.Empty;
    }

    private static Paragraph Heading(StudyTable table, TableFit fit, string input)
    {
        var line = new Paragraph(new string(' ', TableFit.Indent)).Append(Cells.Padded("variant", fit.Name), Dim);
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

    private static Paragraph Row(StudyRow row, StudyTable table, Mark? baseline, TableFit fit, string input)
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
                    AppendMark(line, row.Mark is { } mark && table.Scale is { } scale ? MarkLine.Draw(mark, scale, baseline, fit.Marks) : "", fit.Marks, style);
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

    private static Style StyleOf(Tone tone) => tone switch
    {
        Tone.Good => new Style(Color.Green),
        Tone.Bad => new Style(Color.Red),
        Tone.Open => Doubt,
        Tone.Failed => new Style(Color.Red, decoration: Decoration.Bold),
        _ => Style.Plain,
    };
}
