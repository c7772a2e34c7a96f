using Spectre.Console;
using Tachyscope.Reports.Histories;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows what saved runs tell.</summary>
public static class HistoryView
{
    private static readonly Style Dim = new(decoration: Decoration.Dim);
    private static readonly Style Strong = new(decoration: Decoration.Bold);

    /// <summary>Writes it: to a person parts with their tables, to a pipe a statement a line.</summary>
    /// <param name="report">What is told.</param>
    /// <param name="console">Where to.</param>
    public static void Write(HistoryReport report, IAnsiConsole console)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(console);
        var width = console.Profile.Width;
        var isPlain = width >= TerminalConsole.PlainWidth;
        foreach (var line in report.Heads)
        {
            Line(line, Style.Plain);
        }

        foreach (var part in report.Parts)
        {
            if (isPlain)
            {
                foreach (var statement in part.Sentences.Select(sentence => $"{part.Title} · {sentence.Tone.Sign()} {sentence.Text}")
                    .Concat(part.Statements))
                {
                    Line(statement, Style.Plain);
                }

                continue;
            }

            console.WriteLine();
            Line(part.Title, Strong);
            foreach (var (tone, text) in part.Sentences)
            {
                console.Write(WrappedText.Set(width, [(tone.Sign(), StudyView.StyleOf(tone))], text, Style.Plain));
                console.WriteLine();
            }

            if (part.Table is { } table)
            {
                console.Write(new Rows(FigureView.Lines(table, width)));
            }
        }

        if (report.Notes.Count > 0 && !isPlain)
        {
            console.WriteLine();
        }

        foreach (var note in report.Notes)
        {
            Line(note, Dim);
        }

        void Line(string text, Style style)
        {
            console.Write(WrappedText.Set(width, 0, [], text, style));
            console.WriteLine();
        }
    }
}
