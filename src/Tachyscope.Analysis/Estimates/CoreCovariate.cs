using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// Values of sittings as they would be beside a quiet core, of rounds in which it was shared more or less: for what takes longer than quiet
/// moments last, and finds hardly any round that is quiet throughout.
/// </summary>
/// <remarks>
/// Analysis of covariance (Fisher, Statistical Methods for Research Workers, 4th ed., 1932): a round's logarithm is its sitting's own, and
/// a slope times the share of its gauges that were not quiet; the slope is common to all sittings, and found within them. The values are
/// spread as those of the jackknife (Tukey, "Bias and confidence in not-quite large samples", 1958), so that what the slope is not
/// known by is in them too.
/// </remarks>
internal static class CoreCovariate
{
    // A slope of a half, as sharing a core costs, is known beforehand as well as from a hundredth of a round that is shared, where rounds
    // deviate by a twentieth: next to nothing where there are any, and no division by zero where there are none.
    private const double Known = 0.01;

    // As much as one round of ten that is shared by half has of it: with less a sitting tells nothing of what sharing costs.
    private const double LeastVariation = 0.2;
    private const int LeastTelling = 2;
    private const double LeastTellingShare = 0.25;
    private const double Mostly = 0.5;

    /// <summary>Rounds of a sitting.</summary>
    /// <param name="Logs">Logarithm of the time or the ratio, in each.</param>
    /// <param name="Shares">Share of the gauges that were not quiet, for each cell that takes part and in each round.</param>
    public sealed record Rounds(double[] Logs, double[][] Shares)
    {
        public double[] MeanShares { get; } = [.. Shares.Select(shares => SampleStatistics.Mean(shares))];

        public double MeanLog { get; } = SampleStatistics.Mean(Logs);

        /// <summary>Sum of squares of the first cell's shares about their mean.</summary>
        public double Variation { get; } = Shares[0].Sum(share => Math.Pow(share - SampleStatistics.Mean(Shares[0]), 2));
    }

    /// <summary>One value for each sitting.</summary>
    /// <param name="sittings">Their rounds; null, or without any, where a sitting has none.</param>
    /// <returns>Logarithms; NaN where there was nothing.</returns>
    public static double[] Values(IReadOnlyList<Rounds?> sittings)
    {
        var known = Enumerable.Range(0, sittings.Count).Where(sitting => sittings[sitting] is { Logs.Length: > 0 }).ToList();
        List<Rounds> rounds = [.. known.Select(sitting => sittings[sitting]!)];
        var values = Enumerable.Repeat(double.NaN, sittings.Count).ToArray();
        var own = IsTold(rounds) ? Spread(rounds) : [.. rounds.Select(sitting => SampleStatistics.Median([.. sitting.Logs]))];
        for (var place = 0; place < known.Count; place++)
        {
            values[known[place]] = own[place];
        }

        return values;
    }

    /// <summary>
    /// Whether the core was mostly shared, and hardly ever more or less so, so that nothing tells what would be read beside a quiet one.
    /// </summary>
    /// <param name="sittings">Rounds of one cell.</param>
    public static bool IsUnknown(IReadOnlyList<Rounds?> sittings)
    {
        var known = sittings.OfType<Rounds>().Where(rounds => rounds.Logs.Length > 0).ToList();
        return known.Count > 0 && !IsTold(known) && SampleStatistics.Mean([.. known.Select(rounds => rounds.MeanShares[0])]) > Mostly;
    }

    // By enough sittings, so that the spread of their values is that of a slope that several found.
    private static bool IsTold(List<Rounds> sittings)
        => sittings.Count(sitting => sitting.Variation >= LeastVariation)
            >= Math.Max(Math.Min(LeastTelling, sittings.Count), LeastTellingShare * sittings.Count);

    // About the mean of all, as far apart as leaving each out moves it.
    private static double[] Spread(List<Rounds> sittings)
    {
        var all = Adjusted(sittings);
        if (sittings.Count <= 2)
        {
            return all;
        }

        double[] without = [.. sittings.Select((_, left)
            => SampleStatistics.Mean(Adjusted([.. sittings.Where((_, place) => place != left)])))];
        var (mean, meanWithout) = (SampleStatistics.Mean(all), SampleStatistics.Mean(without));
        return [.. without.Select(left => mean + ((sittings.Count - 1) * (meanWithout - left)))];
    }

    private static double[] Adjusted(IReadOnlyList<Rounds> sittings)
    {
        var slopes = Slopes(sittings);
        return [.. sittings.Select(sitting => SampleStatistics.Median([.. sitting.Logs.Select((log, round)
            => log - slopes.Select((slope, cell) => slope * sitting.Shares[cell][round]).Sum())]))];
    }

    // Least squares of what is left without each sitting's mean, for one cell or two.
    private static double[] Slopes(IReadOnlyList<Rounds> sittings)
    {
        if (sittings.Count == 0)
        {
            return [];
        }

        var cells = sittings[0].Shares.Length;
        var (products, right) = (new double[cells, cells], new double[cells]);
        foreach (var sitting in sittings)
        {
            for (var round = 0; round < sitting.Logs.Length; round++)
            {
                for (var cell = 0; cell < cells; cell++)
                {
                    var share = sitting.Shares[cell][round] - sitting.MeanShares[cell];
                    right[cell] += share * (sitting.Logs[round] - sitting.MeanLog);
                    for (var other = 0; other < cells; other++)
                    {
                        products[cell, other] += share * (sitting.Shares[other][round] - sitting.MeanShares[other]);
                    }
                }
            }
        }

        for (var cell = 0; cell < cells; cell++)
        {
            products[cell, cell] += Known;
        }

        if (cells == 1)
        {
            return [right[0] / products[0, 0]];
        }

        var determinant = (products[0, 0] * products[1, 1]) - (products[0, 1] * products[1, 0]);
        return
        [
            ((right[0] * products[1, 1]) - (right[1] * products[0, 1])) / determinant,
            ((right[1] * products[0, 0]) - (right[0] * products[1, 0])) / determinant,
        ];
    }
}
