using Spectre.Console;

namespace Tachyscope.Reports.Terminal;

/// <summary>Sets running text under a table: indented, wrapped at words, and without blanks at line ends.</summary>
internal static class WrappedText
{
    private const int Indent = 2;

    /// <summary>A label and what follows it, for a console of a stated width.</summary>
    public static Paragraph Set(int consoleWidth, (string Text, Style Style)[] label, string text, Style style)
        => Set(consoleWidth, Indent, label, text, style);

    /// <summary>The same, its first line begun elsewhere.</summary>
    public static Paragraph Set(int consoleWidth, int indent, (string Text, Style Style)[] label, string text, Style style)
    {
        var width = Math.Max(20, consoleWidth - 1);
        var line = new Paragraph(new string(' ', indent));
        var column = indent;
        foreach (var (word, wordStyle) in label)
        {
            line.Append(word, wordStyle).Append(" ");
            column += word.GetCellWidth() + 1;
        }

        var isFirst = true;
        foreach (var word in text.Split(' '))
        {
            var space = isFirst ? 0 : 1;
            if (!isFirst && column + space + word.GetCellWidth() > width)
            {
                line.Append($"\n{new string(' ', Indent * 2)}");
                column = Indent * 2;
                space = 0;
            }

            line.Append(space == 0 ? word : $" {word}", style);
            column += space + word.GetCellWidth();
            isFirst = false;
        }

        return line;
    }
}
