using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Reports.Codes;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Shows what was made of a study's variants.</summary>
public static class CodeView
{
    private const int Indent = 2;
    private const int LeastColumn = 24;

    private static readonly Style s_dim = new(decoration: Decoration.Dim);
    private static readonly Style s_strong = new(decoration: Decoration.Bold);
    private static readonly Style s_changed = new(Color.DarkOrange3);

    /// <summary>Writes it: to a person in columns, to a pipe a statement or a line of code a line.</summary>
    /// <param name="report">What is told.</param>
    /// <param name="console">Where to.</param>
    public static void Write(CodeReport report, IAnsiConsole console)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(console);
        var width = console.Profile.Width;
        console.Write(new Rows([new Text(report.Title, s_strong), .. Above(report, width)]));
        foreach (var text in report.Texts)
        {
            console.WriteLine();
            console.Write(new Rows([.. Lines(text, width)]));
        }

        if (report.Notes.Count > 0)
        {
            console.WriteLine();
            console.Write(new Rows([.. report.Notes.Select(note => WrappedText.Set(width, 0, [], note, s_dim))]));
        }
    }

    private static IEnumerable<IRenderable> Above(CodeReport report, int width)
    {
        foreach (var (tone, text) in report.Sentences)
        {
            yield return WrappedText.Set(width, [(tone.Sign(), StudyView.StyleOf(tone))], text, Style.Plain);
        }

        var lines = width >= TerminalConsole.PlainWidth ? report.Statements.Select(line => new Text(line))
            : report.Facts is { } facts ? FigureView.Lines(facts, width) : [];
        foreach (var line in lines)
        {
            yield return line;
        }
    }

    private static IEnumerable<IRenderable> Lines(CodeText text, int width)
    {
        yield return WrappedText.Set(width, 0, [], text.Title, s_strong);
        var isPair = text.Right is not null;
        var isPlain = width >= TerminalConsole.PlainWidth;
        if (isPair && isPlain)
        {
            yield return new Text($"‹ {text.Left}");
            yield return new Text($"› {text.Right}");
        }

        // Both columns as wide as what they hold, as far as the terminal goes.
        var column = Math.Min(Math.Max(LeastColumn, (width - Indent - 3) / 2),
            text.Rows.Select(row => row.Left ?? "").Append(text.Left).Max(line => line.GetCellWidth()));
        if (isPair && !isPlain)
        {
            yield return Columns(text.Left, text.Right!, "  ", column, width, s_dim);
        }

        foreach (var row in text.Rows)
        {
            foreach (var line in isPair && isPlain ? Statements(row) : [isPair ? Beside(row, column, width) : Alone(row, width)])
            {
                yield return line;
            }
        }
    }

    private static IEnumerable<IRenderable> Statements(CodeRow row)
        => row.Kind != CodeRowKind.Different ? [new Text($"  {row.Left}")]
            : [.. row.Left is { } left ? (IRenderable[])[new Text($"‹ {left}")] : [], .. row.Right is { } right
                ? (IRenderable[])[new Text($"› {right}")] : []];

    private static Paragraph Alone(CodeRow row, int width)
    {
        var isOurs = row.Kind == CodeRowKind.Instrument;
        return new Paragraph(Cells.Shortened($"{(isOurs ? "· " : "  ")}{row.Left}", width - 1), isOurs ? s_dim : Style.Plain);
    }

    private static Paragraph Beside(CodeRow row, int column, int width)
    {
        var isDifferent = row.Kind == CodeRowKind.Different;
        var sign = !isDifferent ? "  " : row.Left is null ? "› " : row.Right is null ? "‹ " : "≠ ";
        return Columns(row.Left ?? "", row.Right ?? "", sign, column, width, isDifferent ? s_changed : Style.Plain);
    }

    private static Paragraph Columns(string left, string right, string sign, int column, int width, Style style)
        => new Paragraph(new string(' ', Indent))
            .Append(Cells.Padded(Cells.Shortened(left, column), column), style)
            .Append($" {sign}", s_dim)
            .Append(Cells.Shortened(right, Math.Max(1, width - Indent - column - 4)), style);
}
