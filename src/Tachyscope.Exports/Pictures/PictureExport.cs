using System.Globalization;
using System.Text;
using ScottPlot;
using ScottPlot.TickGenerators;
using Tachyscope.Exports.Charts;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Exports.Pictures;

/// <summary>Draws a figure into a picture, with letters of its own; colours that stay apart for the colour-blind, and signs that do in
/// grey.</summary>
internal static class PictureExport
{
    private const int Width = 1200;
    private const int Height = 720;
    private const int RowHeight = 34;
    private const int LongestName = 40;
    private const string Family = "DejaVu Sans";

    private static readonly Color[] Colours =
        [.. ((string[])["#0072b2", "#d55e00", "#009e73", "#cc79a7", "#e69f00", "#56b4e9", "#7f7f7f", "#8c6d31"]).Select(Color.FromHex)];

    private static readonly MarkerShape[] Signs =
    [
        MarkerShape.FilledCircle, MarkerShape.FilledSquare, MarkerShape.FilledTriangleUp, MarkerShape.FilledDiamond,
            MarkerShape.OpenCircle, MarkerShape.OpenSquare,
        MarkerShape.OpenTriangleUp, MarkerShape.OpenDiamond,
    ];

    private static readonly bool AreFontsThere = AddFonts();

    public static void WritePng(Chart chart, Stream stream)
        => stream.Write(Drawn(chart).GetImage(Width, HeightOf(chart)).GetImageBytes(ImageFormat.Png));

    public static void WriteSvg(Chart chart, Stream stream)
        => stream.Write(Encoding.UTF8.GetBytes(Drawn(chart).GetSvgXml(Width, HeightOf(chart))));

    private static bool AddFonts()
    {
        var folder = Path.Combine(AppContext.BaseDirectory, "fonts");
        Fonts.AddFontFile(Family, Path.Combine(folder, "DejaVuSans.ttf"), bold: false, italic: false);
        Fonts.AddFontFile(Family, Path.Combine(folder, "DejaVuSans-Bold.ttf"), bold: true, italic: false);
        return true;
    }

    private static int HeightOf(Chart chart) => chart.Y.Categories is { } names ? Math.Max(260, 200 + (RowHeight * names.Count)) : Height;

    private static Plot Drawn(Chart chart)
    {
        var plot = new Plot();
        plot.FigureBackground.Color = Colors.White;
        for (var index = 0; index < chart.Series.Count; index++)
        {
            Draw(plot, chart, index);
        }

        if (chart.X.Quantity == ChartQuantity.Factor)
        {
            var guide = plot.Add.VerticalLine(Place(chart.X, 1));
            guide.Color = Colors.Gray;
            guide.LinePattern = LinePattern.Dotted;
        }

        plot.Title(chart.Title);
        plot.XLabel(chart.X.Label);
        plot.YLabel(chart.Y.Label);
        plot.Axes.Margins(0.06, 0.08);
        plot.Axes.AutoScale();
        plot.Axes.Bottom.TickGenerator = Ticks(chart.X, plot.Axes.Bottom.Min, plot.Axes.Bottom.Max);
        plot.Axes.Left.TickGenerator = Ticks(chart.Y, plot.Axes.Left.Min, plot.Axes.Left.Max);
        // The last label would be cut.
        plot.Axes.Right.MinimumSize = 40;
        if (AreFontsThere)
        {
            plot.Font.Set(Family);
        }

        plot.Axes.Bottom.TickLabelStyle.FontSize = plot.Axes.Left.TickLabelStyle.FontSize = 14;
        plot.Axes.Title.Label.FontSize = 20;
        plot.Axes.Bottom.Label.FontSize = plot.Axes.Left.Label.FontSize = 15;
        plot.Grid.MajorLineColor = Color.FromHex("#e2e6eb");
        if (chart.Series.Count > 1)
        {
            plot.ShowLegend(Edge.Bottom).Legend.FontSize = 14;
            plot.Legend.FontName = Family;
            plot.Legend.Orientation = Orientation.Horizontal;
        }

        return plot;
    }

    private static void Draw(Plot plot, Chart chart, int index)
    {
        var series = chart.Series[index];
        var (colour, sign) = (Colours[index % Colours.Length], Signs[index % Signs.Length]);
        if (series.Shape == ChartShape.Bars)
        {
            var bars = plot.Add.Bars((Bar[])[.. series.Points.Select(point => new Bar
            {
                Position = Place(chart.Y, point.Y), Orientation = Orientation.Horizontal, FillColor = colour, Size = 0.7,
                ValueBase = Before(chart, index, point.Y), Value = Before(chart, index, point.Y) + point.X,
            })]);
            bars.LegendText = series.Name;
            return;
        }

        foreach (var point in series.Points.Where(point => point is { Lower: not null, Upper: not null }))
        {
            var reach = series.Shape == ChartShape.Intervals
                ? plot.Add.Line(Place(chart.X, point.Lower!.Value), Place(chart.Y, point.Y), Place(chart.X, point.Upper!.Value),
                    Place(chart.Y, point.Y))
                : plot.Add.Line(Place(chart.X, point.X), Place(chart.Y, point.Lower!.Value), Place(chart.X, point.X),
                    Place(chart.Y, point.Upper!.Value));
            (reach.Color, reach.LineWidth) = (colour, 2);
        }

        foreach (var group in series.Points.GroupBy(point => point.IsMuted))
        {
            double[] xs = [.. group.Select(point => Place(chart.X, point.X))];
            double[] ys = [.. group.Select(point => Place(chart.Y, point.Y))];
            var drawn = series.Shape == ChartShape.Line ? plot.Add.Scatter(xs, ys) : plot.Add.ScatterPoints(xs, ys);
            drawn.Color = group.Key ? colour.WithAlpha(0.25) : colour;
            (drawn.MarkerShape, drawn.MarkerSize) = (sign, series.Points.Count > 60 ? series.Shape == ChartShape.Line ? 0 : 3 : 9);
            drawn.LineWidth = series.Shape == ChartShape.Line ? 1.5f : 0;
            drawn.LegendText = group.Key ? "" : series.Name;
        }
    }

    // Bars stand one behind the other.
    private static double Before(Chart chart, int index, double place)
        => chart.Series.Take(index).SelectMany(series => series.Points).Where(point => point.Y.Equals(place)).Sum(point => point.X);

    // The first category stands on top.
    private static double Place(ChartAxis axis, double value)
        => axis.Categories is not null ? -value : axis.IsLogarithmic ? Math.Log10(value) : value;

    private static NumericManual Ticks(ChartAxis axis, double low, double high)
    {
        var ticks = new NumericManual();
        if (axis.Categories is { } names)
        {
            for (var place = 0; place < names.Count; place++)
            {
                ticks.AddMajor(-place, names[place].Length > LongestName ? $"{names[place][..19]}…{names[place][^19..]}" : names[place]);
            }

            return ticks;
        }

        foreach (var value in axis.IsLogarithmic ? Logarithmic(low, high) : Linear(low, high))
        {
            // Nothing is not minus nothing.
            ticks.AddMajor(axis.IsLogarithmic ? Math.Log10(value) : value, Written(axis.Quantity, value + 0.0));
        }

        return ticks;
    }

    private static IEnumerable<double> Logarithmic(double low, double high)
    {
        int[] steps = high - low > 4 ? [1] : high - low > 1 ? [1, 2, 5]
            : [10, 11, 12, 13, 14, 15, 16, 18, 20, 22, 25, 30, 35, 40, 50, 60, 70, 80, 90];
        var scale = steps[0];
        for (var decade = (int)Math.Floor(low) - 1; decade <= Math.Ceiling(high); decade++)
        {
            foreach (var value in steps.Select(step => (double)step / scale * Math.Pow(10, decade))
                .Where(value => Math.Log10(value) >= low && Math.Log10(value) <= high))
            {
                yield return value;
            }
        }
    }

    private static IEnumerable<double> Linear(double low, double high)
    {
        var rough = (high - low) / 7;
        var size = Math.Pow(10, Math.Floor(Math.Log10(rough)));
        var step = size * (((double[])[1, 2, 5, 10]).First(times => times * size >= rough));
        for (var index = Math.Ceiling(low / step); index * step <= high; index++)
        {
            yield return index * step;
        }
    }

    private static string Written(ChartQuantity quantity, double value) => quantity switch
    {
        ChartQuantity.Time => value < 0 ? "" : Quantity.Time(value),
        ChartQuantity.Bytes => value < 0 ? "" : Quantity.Size(value),
        ChartQuantity.Factor => Math.Abs(value - 1) < 1e-9 ? "1" : Quantity.Factor(value),
        ChartQuantity.Share => Quantity.Percent(value),
        ChartQuantity.Rate => Quantity.Rate(value),
        _ => value.ToString("#,0.######", CultureInfo.InvariantCulture),
    };
}
