namespace Tachyscope.Analysis.Statistics;

/// <summary>Intervals of shares.</summary>
internal static class Shares
{
    /// <summary>Wilson's score interval of a share.</summary>
    /// <param name="had">How many had it.</param>
    /// <param name="all">Of how many, one or more.</param>
    /// <param name="level">Level of the interval.</param>
    public static Interval Wilson(int had, int all, double level)
    {
        var z = MathNet.Numerics.Distributions.Normal.InvCDF(0, 1, (1 + level) / 2);
        var share = (double)had / all;
        var (shrunk, scale) = (share + (z * z / (2 * all)), 1 + (z * z / all));
        var reach = z * Math.Sqrt((share * (1 - share) / all) + (z * z / (4.0 * all * all)));
        return new Interval(share, Math.Max(0, (shrunk - reach) / scale), Math.Min(1, (shrunk + reach) / scale), level);
    }
}
