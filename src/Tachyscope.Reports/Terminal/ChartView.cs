using System.Text;
using Spectre.Console;
using Spectre.Console.Rendering;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Terminal;

/// <summary>Draws growth in letters: both scales logarithmic, so that a power is a straight line.</summary>
internal static class ChartView
{
    private const int Height = 11;
    private const int WidestPlot = 64;
    private const int Indent = 2;
    private const char Between = '·';

    private static readonly Style Dim = new(decoration: Decoration.Dim);

    public static IEnumerable<IRenderable> Lines(GrowthChart chart, int width)
    {
        var times = chart.Lines.SelectMany(line => line.NanosecondsPerCall).Where(double.IsFinite).ToList();
        var (least, most) = (times.Min(), times.Max());
        string[] labels = [.. Enumerable.Range(0, Height)
            .Select(row => row is 0 or Height - 1 or Height / 2 ? Quantity.Time(At(row)) : "")];
        var margin = labels.Max(label => label.GetCellWidth());
        var plot = Math.Min(WidestPlot, width - Indent - margin - 4);
        yield return new Text(new string(' ', Indent) + chart.Title, Dim);
        var grid = Grid(chart, plot, Row);
        for (var row = 0; row < Height; row++)
        {
            yield return new Paragraph(new string(' ', Indent) + new string(' ', margin - labels[row].GetCellWidth()))
                .Append(labels[row], Dim).Append(labels[row].Length > 0 ? " ┤" : " │", Dim).Append(new string(grid[row]).TrimEnd());
        }

        yield return new Text(new string(' ', Indent + margin + 1) + "└" + new string('─', plot), Dim);
        yield return new Text(new string(' ', Indent + margin + 2) + Sizes(chart, plot), Dim);
        yield return Text.Empty;

        double At(int row) => least * Math.Pow(most / least, 1 - (row / (Height - 1.0)));
        int Row(double time) => most > least
            ? (int)Math.Round((1 - (Math.Log(time / least) / Math.Log(most / least))) * (Height - 1))
            : Height / 2;
    }

    private static char[][] Grid(GrowthChart chart, int plot, Func<double, int> row)
    {
        char[][] grid = [.. Enumerable.Range(0, Height).Select(_ => new string(' ', plot).ToCharArray())];
        foreach (var (_, _, times) in chart.Lines)
        {
            for (var size = 0; size + 1 < chart.Sizes.Count; size++)
            {
                Connect(grid, Column(chart, size, plot), Column(chart, size + 1, plot), times[size], times[size + 1], row);
            }
        }

        // Letters last, side by side where rows take equally long.
        foreach (var (letter, _, times) in chart.Lines)
        {
            for (var size = 0; size < chart.Sizes.Count; size++)
            {
                if (double.IsFinite(times[size]))
                {
                    Put(grid[row(times[size])], Column(chart, size, plot), letter);
                }
            }
        }

        return grid;
    }

    private static void Connect(char[][] grid, int from, int to, double left, double right, Func<double, int> row)
    {
        for (var column = from + 1; column < to && double.IsFinite(left) && double.IsFinite(right); column++)
        {
            var share = (double)(column - from) / (to - from);
            grid[row(left * Math.Pow(right / left, share))][column] = Between;
        }
    }

    private static void Put(char[] line, int column, char letter)
    {
        var place = column;
        while (place < line.Length - 1 && char.IsLetter(line[place]))
        {
            place++;
        }

        while (place > 0 && char.IsLetter(line[place]))
        {
            place--;
        }

        line[place] = letter;
    }

    private static int Column(GrowthChart chart, int size, int plot)
    {
        var (first, last) = (chart.Sizes[0], (double)chart.Sizes[^1]);
        // Room at the end for rows that take equally long.
        return (int)Math.Round(Math.Log(chart.Sizes[size] / (double)first) / Math.Log(last / first) * (plot - 5));
    }

    private static string Sizes(GrowthChart chart, int plot)
    {
        var line = new StringBuilder();
        for (var size = 0; size < chart.Sizes.Count; size++)
        {
            var label = Quantity.Count(chart.Sizes[size]);
            var column = Math.Min(Column(chart, size, plot), plot - label.Length);
            // The last one always stands: it says how far the range goes.
            if (size + 1 < chart.Sizes.Count
                && (column < line.Length + (line.Length > 0 ? 1 : 0)
                    || column + label.Length >= plot - Quantity.Count(chart.Sizes[^1]).Length - 1))
            {
                continue;
            }

            line.Append(' ', Math.Max(0, column - line.Length)).Append(label);
        }

        return line.ToString();
    }
}
