using System.Text;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Draws intervals to scale in a line of characters.</summary>
internal static class MarkLine
{
    private const char Estimate = '●';
    private const char Reach = '─';
    private const char LowerEnd = '├';
    private const char UpperEnd = '┤';

    /// <summary>Where the baseline lies.</summary>
    public const char Guide = '┊';

    /// <summary>The intervals, with the baseline as a guide where they leave room.</summary>
    public static string Draw(IReadOnlyList<Mark> marks, MarkScale scale, int width)
    {
        var line = new StringBuilder(new string(' ', width));
        line[Column(1)] = Guide;
        foreach (var mark in marks)
        {
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
        }

        foreach (var mark in marks)
        {
            line[Column(mark.Estimate)] = Estimate;
        }

        return line.ToString();

        int Column(double factor) => (int)Math.Round(scale.Position(factor) * (width - 1));
    }

    /// <summary>The scale's two ends, set at its two ends.</summary>
    public static string Ends(MarkScale scale, int width)
    {
        var left = scale.Left < 1 ? Formats.Quantity.Factor(scale.Left) : "1";
        var right = scale.Right > 1 ? Formats.Quantity.Factor(scale.Right) : "1";
        var gap = width - left.Length - right.Length;
        return gap < 1 ? "" : left + new string(' ', gap) + right;
    }
}
