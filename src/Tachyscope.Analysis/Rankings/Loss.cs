using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Rankings;

/// <summary>What taking a row costs against the best of those that do the same job on an input, as a share of the best's time.</summary>
/// <param name="EstimateShare">
/// By the estimates; 0 for the one with the least time, infinite where another is only known to take less.
/// </param>
/// <param name="WorstShare">
/// At worst: by the upper ends of its ratios to all others, which hold together (as in Hsu, "Constrained simultaneous confidence
/// intervals for multiple comparisons with the best", 1984); 0 when it is shown to lose nothing.
/// </param>
public readonly record struct Loss(double EstimateShare, double WorstShare)
{
    /// <summary>The largest loss that is called small: 5 %.</summary>
    public const double SmallShare = 0.05;

    /// <summary>Whether it loses little by the estimates.</summary>
    public bool IsSmall => EstimateShare <= SmallShare;

    internal static Loss Among(int row, IEnumerable<int> rows, Func<int, int, PairContrast?> find)
    {
        var ratios = rows.Where(other => other != row)
            .Select(other => find(row, other)?.TimeRatio ?? Interval.Unknown(0)).ToList();
        return new Loss(Most(ratios.Select(Estimate)), Most(ratios.Select(ratio => ratio.Bound == Bound.Open ? 1 : ratio.Upper)));
    }

    private static double Most(IEnumerable<double> ratios) => Math.Max(0, ratios.DefaultIfEmpty(1).Max() - 1);

    // Of two that are both next to nothing neither loses; one that may take less than a bound says need not lose either.
    private static double Estimate(Interval ratio) => ratio.Bound switch
    {
        Bound.Open => 1,
        Bound.AtMost => Math.Min(1, ratio.Estimate),
        Bound.AtLeast => ratio.Estimate > 1 ? double.PositiveInfinity : ratio.Estimate,
        _ => ratio.IsKnown ? ratio.Estimate : double.PositiveInfinity,
    };
}
