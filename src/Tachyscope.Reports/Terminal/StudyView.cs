using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows a study in a terminal: its tables, the ground under them, and the caveats.</summary>
public static class StudyView
{
    private const int Indent = 2;
    private const int LongestName = 30;
    private const int WidestMarks = 34;
    private const int NarrowestMarks = 10;
    private const int ColumnGap = 2;

    // Read with the sign of the figure below it: baseline's time ÷ 5.
    private const string Against = "baseline's time";

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
        var fit = new Fit(report.Tables, width);
        var lines = report.Tables.SelectMany(table => Lines($"{report.Study}, so far", table with { Figures = [] }, fit, width)).ToList();
        return lines.Count <= height ? new Rows(lines) : null;
    }

    private static IEnumerable<IRenderable> Lines(StudyReport report, int width)
    {
        var fit = new Fit(report.Tables, width);
        foreach (var line in report.Tables.SelectMany(table => Lines(report.Study, table, fit, width)))
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

    private static IEnumerable<IRenderable> Lines(string study, StudyTable table, Fit fit, int width)
    {
        yield return new Paragraph().Append(study, Strong).Append($" · {table.Input}");
        yield return Heading(table, fit);
        var baseline = table.Rows.FirstOrDefault(row => row.Tone == Tone.Reference)?.Mark;
        foreach (var row in table.Rows)
        {
            yield return Row(row, table.Scale, baseline, fit);
        }

        foreach (var failure in table.Failures)
        {
            yield return WrappedText.Set(width, [(Sign(Tone.Failed), StyleOf(Tone.Failed))], failure, Style.Plain);
        }

        foreach (var line in table.Figures.SelectMany(figures => FigureView.Lines(figures, width)))
        {
            yield return line;
        }

        yield return Text.Empty;
    }

    private static Paragraph Heading(StudyTable source, Fit fit)
    {
        var line = new Paragraph(new string(' ', Indent));
        Left(line, "variant", fit.Name, Dim);
        Right(line, "time per call", fit.Time, Dim);
        if (fit.Marks > 0)
        {
            Left(line, source.Scale is { } scale ? MarkLine.Ends(scale, fit.Marks) : "", fit.Marks, Dim);
        }

        Right(line, Against, fit.Factor, Dim);
        Right(line, "saved", fit.Saved, Dim);
        Right(line, "bytes/call", fit.Bytes, Dim);
        return line.Append("verdict", Dim);
    }

    private static Paragraph Row(StudyRow row, MarkScale? scale, Mark? baseline, Fit fit)
    {
        var style = StyleOf(row.Tone);
        var line = new Paragraph(new string(' ', Indent));
        Left(line, Cells.Shortened(row.Variant, fit.Name), fit.Name, row.Tone == Tone.Reference ? Strong : Style.Plain);
        Right(line, row.Time, fit.Time, Style.Plain);
        if (fit.Marks > 0)
        {
            AppendMark(line, row.Mark is { } mark ? MarkLine.Draw(mark, scale!, baseline, fit.Marks) : "", fit.Marks, style);
        }

        Right(line, fit.IsNarrow ? WithoutReach(row.Factor) : row.Factor, fit.Factor, Style.Plain);
        Right(line, row.Saved, fit.Saved, Style.Plain);
        Right(line, row.Bytes, fit.Bytes, Style.Plain);
        return line.Append($"{Sign(row.Tone)} {row.Verdict}", style);
    }

    // The baseline's guide belongs to no row and takes no row's colour.
    private static void AppendMark(Paragraph line, string marks, int width, Style style)
    {
        foreach (var character in marks)
        {
            line.Append(character.ToString(), character == MarkLine.Guide ? Dim : style);
        }

        Left(line, "", width - marks.Length, style);
    }

    private static void Left(Paragraph line, string text, int width, Style style)
        => line.Append(text, style).Append(new string(' ', Math.Max(0, width - text.GetCellWidth()) + ColumnGap));

    private static void Right(Paragraph line, string text, int width, Style style)
        => line.Append(new string(' ', Math.Max(0, width - text.GetCellWidth()))).Append(text, style).Append(new string(' ', ColumnGap));

    private static string WithoutReach(string factor)
    {
        var reach = factor.IndexOf(" ±", StringComparison.Ordinal);
        return reach < 0 ? factor : factor[..reach];
    }

    private static string Sign(Tone tone) => tone switch
    {
        Tone.Good => "▲",
        Tone.Bad => "▼",
        Tone.Even => "=",
        Tone.Open => "?",
        Tone.Failed => "✗",
        _ => "·",
    };

    private static Style StyleOf(Tone tone) => tone switch
    {
        Tone.Good => new Style(Color.Green),
        Tone.Bad => new Style(Color.Red),
        Tone.Open => Doubt,
        Tone.Failed => new Style(Color.Red, decoration: Decoration.Bold),
        _ => Style.Plain,
    };

    /// <summary>How wide each column is: the figures take what they need, the marks what is left.</summary>
    private readonly struct Fit
    {
        public Fit(IReadOnlyList<StudyTable> tables, int width)
        {
            StudyRow[] rows = [.. tables.SelectMany(table => table.Rows)];
            Name = Math.Min(LongestName, Widest(rows.Select(row => row.Variant), "variant"));
            Time = Widest(rows.Select(row => row.Time), "time per call");
            Saved = Widest(rows.Select(row => row.Saved), "saved");
            Bytes = Widest(rows.Select(row => row.Bytes), "bytes/call");
            Verdict = Widest(rows.Select(row => $"x {row.Verdict}"), "verdict");
            Factor = Widest(rows.Select(row => row.Factor), Against);
            var left = Left(width);
            if (left < NarrowestMarks)
            {
                IsNarrow = true;
                Factor = Widest(rows.Select(row => WithoutReach(row.Factor)), Against);
                left = Left(width);
            }

            Marks = tables.All(table => table.Scale is null) || left < NarrowestMarks ? 0 : Math.Min(left, WidestMarks);
            if (left < -ColumnGap)
            {
                Name = Math.Max(8, Name + left + ColumnGap);
            }
        }

        public int Name { get; }

        public int Time { get; }

        public int Marks { get; }

        public int Factor { get; }

        public int Saved { get; }

        public int Bytes { get; }

        public int Verdict { get; }

        public bool IsNarrow { get; }

        private int Left(int width) => width - Indent - Name - Time - Factor - Saved - Bytes - Verdict - (6 * ColumnGap);

        private static int Widest(IEnumerable<string> texts, string heading)
            => Math.Max(heading.Length, texts.Select(text => text.GetCellWidth()).DefaultIfEmpty(0).Max());
    }
}
