using Tachyscope;

/// <summary>Which beacon is nearest to a vessel: four ways, over charts of growing size.</summary>
internal static class NearestBeacon
{
    public static Study Study => Tachyscope.Study
        .Of("nearest beacon")
        .Inputs("beacons", [16, 64, 256, 1_024, 4_096], count => Chart.Scatter(count, seed: 11))
        .Baseline("scan", chart => chart.NearestByScan())
        .Variant("order and take first", chart => chart.NearestByOrder())
        .Variant("sweep by latitude", chart => chart.NearestBySweep())
        .Variant("grid", prepare: chart => chart.Grid(), use: (grid, chart) => grid.Nearest(chart.HereLatitude, chart.HereLongitude))
        .Called(50, per: TimeSpan.FromSeconds(1), by: 40)
        .Limit(nanoseconds: 20_000, bytes: 0, of: "grid", on: "4,096 beacons");
}
