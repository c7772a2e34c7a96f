using Spectre.Console;

namespace Tachyscope.Reports.Terminal;

/// <summary>Fits text into columns, by cells and not by characters: some letters are two cells wide.</summary>
internal static class Cells
{
    public static string Shortened(string text, int width)
    {
        if (text.GetCellWidth() <= width)
        {
            return text;
        }

        var length = text.Length;
        while (length > 0 && text[..length].GetCellWidth() >= width)
        {
            length--;
        }

        return $"{text[..length]}…";
    }

    public static string Padded(string text, int width) => text + new string(' ', Math.Max(0, width - text.GetCellWidth()));
}
