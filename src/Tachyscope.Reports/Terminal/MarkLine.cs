using System.Text;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Draws one interval to scale in a line of characters.</summary>
internal static class MarkLine
{
    private const char Estimate = '●';
    private const char Reach = '─';
    private const char LowerEnd = '├';
    private const char UpperEnd = '┤';

    /// <summary>Where the baseline lies.</summary>
    public const char Guide = '┊';

    /// <summary>The interval, with the baseline's estimate as a guide where it leaves room.</summary>
    public static string Draw(Mark mark, MarkScale scale, Mark? baseline, int width)
    {
        var line = new StringBuilder(new string(' ', width));
        if (baseline is { } reference)
        {
            line[Column(reference.Estimate)] = Guide;
        }

        var (lower, upper) = (Column(mark.Lower), Column(mark.Upper));
        for (var column = lower; column <= upper; column++)
        {
            line[column] = Reach;
        }

        if (upper > lower)
        {
            line[lower] = LowerEnd;
            line[upper] = UpperEnd;
        }

        line[Column(mark.Estimate)] = Estimate;
        return line.ToString();

        int Column(double nanoseconds) => (int)Math.Round(scale.Position(nanoseconds) * (width - 1));
    }

    /// <summary>The scale's two ends, set at its two ends.</summary>
    public static string Ends(MarkScale scale, int width)
    {
        var left = Formats.Quantity.Time(scale.Left);
        var right = Formats.Quantity.Time(scale.Right);
        var middle = scale.IsLogarithmic ? "log" : "";
        var gap = width - left.Length - right.Length;
        if (gap < 1)
        {
            return "";
        }

        return gap < middle.Length + 2
            ? left + new string(' ', gap) + right
            : left + middle.PadLeft((gap + middle.Length) / 2).PadRight(gap) + right;
    }
}
