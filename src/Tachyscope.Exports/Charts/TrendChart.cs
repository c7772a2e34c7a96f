using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Exports.Charts;

/// <summary>Draws cells over the runs of a history, each as a multiple of what it took at first.</summary>
internal static class TrendChart
{
    private const int MostLines = 8;

    // So many runs at the beginning are what the others are measured by.
    private const int FirstRuns = 5;

    public static Chart Of(IReadOnlyList<StudyTrend> trends)
    {
        var cells = trends.SelectMany(trend => trend.Cells.Select(cell => (Trend: trend, Cell: cell))).ToList();
        // What changed is what one looks for.
        var shown = cells.OrderByDescending(pair => Moved(pair.Cell)).Take(MostLines).ToList();
        var title = trends.Count == 1 ? $"{trends[0].Study}, over its runs" : "Studies over their runs";
        return new Chart(
            "trend", title, new("run", ChartQuantity.Number),
                new("time, as a multiple of the first runs'", ChartQuantity.Factor, IsLogarithmic: true),
            [.. shown.Select(pair => new ChartSeries(Name(pair.Trend, pair.Cell, trends.Count > 1), ChartShape.Line,
                [.. Points(pair.Trend, pair.Cell)]))],
            cells.Count > MostLines ? $"The {MostLines} cells of {cells.Count} that changed most." : "");
    }

    private static double Moved(CellTrend cell)
        => cell.Changes.Sum(change => Math.Abs(Math.Log(change.TimeRatio.Estimate))) + Math.Abs(Math.Log(cell.DriftRatio ?? 1));

    private static IEnumerable<ChartPoint> Points(StudyTrend trend, CellTrend cell)
    {
        var first = SampleStatistics.Median([.. cell.Logs.Where(double.IsFinite).Take(FirstRuns)]);
        return cell.Logs.Select((log, index) => (Log: log, Run: trend.Runs[index])).Where(point => double.IsFinite(point.Log))
            .Select(point => new ChartPoint(point.Run.Id, Math.Exp(point.Log - first)));
    }

    private static string Name(StudyTrend trend, CellTrend cell, bool isOfSeveral)
    {
        string[] parts = [.. isOfSeveral ? [trend.Study] : (string[])[], cell.Cell.Variant, cell.Cell.Input, .. cell.Cell.Target.Length > 0
            ? [cell.Cell.Target] : (string[])[]];
        return string.Join(" · ", parts);
    }
}
