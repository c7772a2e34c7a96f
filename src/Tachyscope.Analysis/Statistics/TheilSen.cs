namespace Tachyscope.Analysis.Statistics;

/// <summary>A slope that a few odd points do not bend.</summary>
public static class TheilSen
{
    /// <summary>Median of the slopes between any two points; NaN with fewer than two that are finite and apart.</summary>
    /// <param name="points">The points.</param>
    /// <remarks>Theil, "A rank-invariant method of linear and polynomial regression analysis", 1950; Sen, 1968.</remarks>
    public static double Slope(IReadOnlyList<(double X, double Y)> points)
    {
        ArgumentNullException.ThrowIfNull(points);
        return SampleStatistics.Median([.. from one in Enumerable.Range(0, points.Count)
            from other in Enumerable.Range(one + 1, points.Count - one - 1)
            select (points[other].Y - points[one].Y) / (points[other].X - points[one].X)]);
    }
}
