using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Reasons;

/// <summary>
/// Judges a possible reason by the same contrast measured twice: as it is, and with what is said to cause it taken away. On the scale of
/// logarithms, where factors are distances, the reach of both intervals is added as that of independent errors is.
/// </summary>
public static class ProbeJudge
{
    // A share of the difference that has to go at least, and one that has to stay, beyond the reach of both intervals.
    private const double LeastGone = 0.1;
    private const double MostGone = 0.25;

    /// <summary>What the second contrast says.</summary>
    /// <param name="plain">Time of one variant as a multiple of another's.</param>
    /// <param name="probed">The same with the reason taken away.</param>
    public static ProbeVerdict Of(Interval plain, Interval probed)
    {
        if (!IsUsable(plain) || !IsUsable(probed))
        {
            return ProbeVerdict.Unclear;
        }

        var difference = Math.Abs(Math.Log(plain.Estimate));
        var gone = (Math.Log(plain.Estimate) - Math.Log(probed.Estimate)) * Math.Sign(Math.Log(plain.Estimate));
        var reach = Math.Sqrt((Reach(plain) * Reach(plain)) + (Reach(probed) * Reach(probed)));
        return gone - reach > LeastGone * difference ? ProbeVerdict.Supported
            : gone + reach < MostGone * difference ? ProbeVerdict.NotSupported
            : ProbeVerdict.Unclear;
    }

    private static bool IsUsable(Interval ratio) => ratio.IsMeasured && ratio.IsBounded && ratio.Lower > 0;

    private static double Reach(Interval ratio) => (Math.Log(ratio.Upper) - Math.Log(ratio.Lower)) / 2;
}
