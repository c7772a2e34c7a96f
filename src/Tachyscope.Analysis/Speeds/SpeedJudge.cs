using MathNet.Numerics;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Reasons;

namespace Tachyscope.Analysis.Speeds;

/// <summary>
/// Judges whether something has a part in the several speeds of a row, by the same row measured as it is and with that taken away.
/// </summary>
public static class SpeedJudge
{
    /// <summary>Placements that it takes at least to tell speeds apart.</summary>
    public const int FewestPlacements = Heaps.FewestValues;

    /// <summary>Chance at which as few placements off the most frequent speed would still be taken for luck.</summary>
    public const double Chance = 0.05;

    /// <summary>What the second measurement says.</summary>
    /// <remarks>
    /// Supported where all its placements have one speed, and as many of them as of those of the first would have had another one by luck
    /// in at most one case of twenty: Fisher's exact test, one-sided (R. A. Fisher, "Statistical Methods for Research Workers", 5th
    /// edition, 1934).
    /// </remarks>
    /// <param name="plain">The row as it is.</param>
    /// <param name="tried">The row with that taken away.</param>
    public static ProbeVerdict Of(CellFindings plain, CellFindings tried)
    {
        ArgumentNullException.ThrowIfNull(plain);
        ArgumentNullException.ThrowIfNull(tried);
        if (plain.Speeds.Count < 2 || tried.Placements == 0)
        {
            return ProbeVerdict.Unclear;
        }

        return tried.Speeds.Count > 1 ? ProbeVerdict.NotSupported
            : ChanceOfNone(plain, tried.Placements) <= Chance ? ProbeVerdict.Supported
            : ProbeVerdict.Unclear;
    }

    /// <summary>The chance that none of the second's placements is off the most frequent speed, were both alike.</summary>
    private static double ChanceOfNone(CellFindings plain, int tried)
    {
        var settled = plain.Speeds.Sum(speed => speed.Placements);
        var off = settled - plain.Speeds.Max(speed => speed.Placements);
        return Math.Exp(Ways(settled, off) - Ways(settled + tried, off));

        static double Ways(int all, int chosen) => SpecialFunctions.BinomialLn(all, chosen);
    }
}
