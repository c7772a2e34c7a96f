using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>Compares a time with that of an earlier run, which no reading was paired with.</summary>
public static class LastTime
{
    /// <summary>The ratio of a time to an earlier one.</summary>
    /// <param name="before">The earlier time and its interval.</param>
    /// <param name="now">The time and its interval.</param>
    /// <returns>
    /// The ratio; its reach in logarithms is the root of the sum of both reaches' squares, as for independent normal values. Unknown where
    /// either
    /// is no measured time with two ends.
    /// </returns>
    public static Interval Ratio(Interval before, Interval now)
    {
        if (!(before.IsMeasured && now.IsMeasured && before.IsBounded && now.IsBounded && before.Estimate > 0 && now.Estimate > 0))
        {
            return Interval.Unknown(now.Level);
        }

        static double Reach(double end, double estimate) => Math.Log(Math.Max(end, double.Epsilon) / estimate);
        var ratio = now.Estimate / before.Estimate;
        var below = Math.Sqrt(Math.Pow(Reach(now.Lower, now.Estimate), 2) + Math.Pow(Reach(before.Upper, before.Estimate), 2));
        var above = Math.Sqrt(Math.Pow(Reach(now.Upper, now.Estimate), 2) + Math.Pow(Reach(before.Lower, before.Estimate), 2));
        return new Interval(ratio, ratio * Math.Exp(-below), ratio * Math.Exp(above), now.Level);
    }
}
