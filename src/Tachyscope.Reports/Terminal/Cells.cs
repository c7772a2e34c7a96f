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

    /// <summary>Shortened in its middle, since names of one family begin alike and differ at their end.</summary>
    public static string Squeezed(string text, int width)
    {
        if (text.GetCellWidth() <= width || width < 8)
        {
            return Shortened(text, width);
        }

        var end = text.Length;
        while (end > 0 && text[(end - 1)..].GetCellWidth() <= (width - 1) / 2)
        {
            end--;
        }

        var tail = text[end..].TrimStart();
        return Shortened(text, width - tail.GetCellWidth()) + tail;
    }

    public static string Padded(string text, int width) => text + new string(' ', Math.Max(0, width - text.GetCellWidth()));
}
