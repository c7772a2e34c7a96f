using MathNet.Numerics.Distributions;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.Statistics;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// Values of sittings as they would be beside a quiet core, of rounds in which it was shared more or less: for what found hardly any round
/// that was quiet throughout.
/// </summary>
/// <remarks>
/// Analysis of covariance (Fisher, Statistical Methods for Research Workers, 4th ed., 1932): a round's logarithm is its sitting's own, and
/// a slope times the share of its gauges that were not quiet: its sitting's for a time (<see cref="RandomSlopes"/>), and common to all for
/// a ratio (<see cref="SharingModel"/>), which has two, of what both of its cells shared and of what one did more than the other. Where
/// calls are unforeseen beside a quiet core each is two, up to half of what may be shared and beyond: a linear spline with one knot
/// (Poirier, "Piecewise regression using cubic splines", 1973). The values are spread so that their mean has the model's standard error,
/// and what the slopes are not known by is in it.
/// </remarks>
internal static class CoreCovariate
{
    /// <summary>How many times as long something takes at most for sharing its core: two threads leave each other half, and a little less.
    /// </summary>
    public const double MostBySharing = 2.2;

    // What is known of a slope beforehand: it is about as far from none as sharing a core costs. With rounds that deviate by a twentieth it
    // is as much as a hundredth of one tells.
    private const double UsualSlope = 0.5;

    // Where calls are unforeseen beside a quiet core, the share at which one slope ends and the next begins.
    private const double Knot = 0.5;

    // Two builds of one operation suffer alike from what both share, but for the part in which they differ.
    private const double LeastSlopeOfBuilds = 0.005;

    // As much as one round of ten that is shared by half has of it: with less a sitting tells nothing of what sharing costs.
    private const double LeastVariation = 0.2;
    private const int LeastTelling = 2;
    private const double LeastTellingShare = 0.25;

    private const double BlomShift = 0.375;
    private const double UsualLevel = 0.95;

    // Of a time, what no sitting's value is moved below.
    private const double LeastOfMean = 0.1;

    /// <summary>Rounds of a sitting.</summary>
    /// <param name="Logs">Logarithm of the time or the ratio, in each.</param>
    /// <param name="Own">Share of the cell's gauges that were not quiet, in each round.</param>
    /// <param name="Other">The same of the cell it is compared with; null for a time.</param>
    /// <param name="Copies">Copy of the code that was called, in each.</param>
    /// <param name="AreCallsUnforeseen">Whether calls are foreseen only where the core is shared.</param>
    public sealed record Rounds(double[] Logs, double[] Own, double[]? Other, int[] Copies, bool AreCallsUnforeseen)
    {
        private readonly int[][] _ofCopies = [.. Enumerable.Range(0, Copies.Length).GroupBy(round => Copies[round])
            .Select(copy => copy.ToArray())];

        /// <summary>Share of the gauges that were not quiet, of all its rounds.</summary>
        public double SharedShare { get; } = SampleStatistics.Mean(Other is null ? Own : [.. Own.Concat(Other)]);

        /// <summary>
        /// What each round shared: of a ratio, all that both did, and then as many of what the first cell did more than the other.
        /// </summary>
        public double[][] Shares { get; } = SharesOf(Own, Other, AreCallsUnforeseen);

        /// <summary>How many of the shares are of both cells.</summary>
        public int OfBoth => Other is null ? Shares.Length : Shares.Length / 2;

        /// <summary>Sum of squares of the first shares about their mean.</summary>
        public double Variation => Centred(Shares[0], Array.ConvertAll(Logs, static _ => 1.0)).Sum(static share => share * share);

        /// <summary>What its rounds tell of slopes, each with a weight.</summary>
        public Moments Weighted(double[] weights) => Moments.Of(Logs, Shares, weights);

        /// <summary>What is left in every round.</summary>
        public double[] Residuals(Vector<double> slopes)
        {
            var residuals = (double[])Logs.Clone();
            for (var slope = 0; slope < Shares.Length; slope++)
            {
                var (each, shares) = (slopes[slope], Shares[slope]);
                for (var round = 0; round < residuals.Length; round++)
                {
                    residuals[round] -= each * shares[round];
                }
            }

            return residuals;
        }

        /// <summary>Its value beside a quiet core: the mean over copies of the median of their rounds.</summary>
        /// <remarks>Not the mean of the middle half: what sharing did to single rounds has long tails.</remarks>
        public double Value(Vector<double> slopes)
        {
            var residuals = Residuals(slopes);
            return _ofCopies.Length == 1
                ? SampleStatistics.Median(residuals)
                : SampleStatistics.Mean(Array.ConvertAll(_ofCopies,
                    copy => SampleStatistics.Median(Array.ConvertAll(copy, round => residuals[round]))));
        }
    }

    // Who shares the core a little lets calls be foreseen and takes little else; who shares all of it does no more for calls, and takes as
    // much as anywhere. So there is a slope for either half.
    private static double[][] SharesOf(double[] own, double[]? other, bool areCallsUnforeseen)
    {
        Func<double, double>[] parts = areCallsUnforeseen
            ? [static share => Math.Min(share, Knot) / Knot, static share => Math.Max(0, share - Knot) / (1 - Knot)]
            : [static share => share];
        return other is null
            ? [.. parts.Select(part => Array.ConvertAll(own, share => part(share)))]
            : [.. parts.Select(part => own.Zip(other, (one, two) => (part(one) + part(two)) / 2).ToArray()),
                .. parts.Select(part => own.Zip(other, (one, two) => part(one) - part(two)).ToArray())];
    }

    /// <summary>What rounds tell of slopes.</summary>
    /// <param name="Products">Sums of products of their shares, about the mean.</param>
    /// <param name="Right">Sums of products of the shares and the logarithms.</param>
    public sealed record Moments(double[,] Products, double[] Right)
    {
        public static Moments Of(double[] logs, double[][] shares, double[] weights)
        {
            var centred = Array.ConvertAll(shares, share => Centred(share, weights));
            var centredLogs = Centred(logs, weights);
            var (products, right) = (new double[shares.Length, shares.Length], new double[shares.Length]);
            for (var slope = 0; slope < shares.Length; slope++)
            {
                right[slope] = Product(centred[slope], centredLogs, weights);
                for (var other = 0; other < shares.Length; other++)
                {
                    products[slope, other] = Product(centred[slope], centred[other], weights);
                }
            }

            return new Moments(products, right);
        }

        private static double Product(double[] one, double[] other, double[] weights)
        {
            var sum = 0.0;
            for (var round = 0; round < one.Length; round++)
            {
                sum += weights[round] * one[round] * other[round];
            }

            return sum;
        }
    }

    /// <summary>
    /// Whether the core was shared more and less in enough sittings, so that the spread of values is that of slopes several found.
    /// </summary>
    /// <param name="sittings">Their rounds; null, or without any, where a sitting has none.</param>
    public static bool IsTold(IReadOnlyList<Rounds?> sittings)
    {
        var known = sittings.OfType<Rounds>().Where(rounds => rounds.Logs.Length > 0).ToList();
        return known.Count > 0 && known.Count(IsTelling) >= Math.Max(Math.Min(LeastTelling, known.Count), LeastTellingShare * known.Count);
    }

    private static bool IsTelling(Rounds sitting) => sitting.Variation >= LeastVariation;

    /// <summary>One value for each sitting.</summary>
    /// <param name="sittings">Their rounds; null, or without any, where a sitting has none.</param>
    /// <param name="areBuilds">Whether they are ratios of two builds of one operation.</param>
    /// <param name="ofLog">What is to be averaged, of its logarithm; null for the logarithm.</param>
    /// <returns>NaN where there was nothing.</returns>
    public static double[] Values(IReadOnlyList<Rounds?> sittings, bool areBuilds, Func<double, double>? ofLog)
    {
        var known = Enumerable.Range(0, sittings.Count).Where(sitting => sittings[sitting] is { Logs.Length: > 0 }).ToList();
        var values = Enumerable.Repeat(double.NaN, sittings.Count).ToArray();
        var strays = Apart([.. known.Select(sitting => SampleStatistics.Median(sittings[sitting]!.Logs))]);
        var usual = known.Where((_, place) => !strays.Contains(place)).ToList();
        var (own, slopes) = Spread(usual.ConvertAll(sitting => sittings[sitting]!), areBuilds, ofLog);
        for (var place = 0; place < usual.Count; place++)
        {
            values[usual[place]] = own[place];
        }

        foreach (var place in strays)
        {
            var value = sittings[known[place]]!.Value(slopes);
            values[known[place]] = ofLog is null ? value : ofLog(value);
        }

        return values;
    }

    // Whose code is another's than all others' tells nothing of their slopes, and stands apart with its own value.
    private static int[] Apart(double[] logs)
    {
        var strays = Strays.Of(logs, Math.Log(MostBySharing));
        return strays.Length <= Math.Max(1, SampleMean.Outer(logs.Length)) ? strays : [];
    }

    // About the mean of all, as far apart as it is known by; and the slopes.
    private static (double[] Values, Vector<double> Slopes) Spread(List<Rounds> sittings, bool areBuilds, Func<double, double>? ofLog)
    {
        var usual = Array.ConvertAll(sittings[0].Shares, static _ => UsualSlope);
        if (areBuilds)
        {
            Array.Fill(usual, LeastSlopeOfBuilds + (UsualSlope * Math.Abs(SampleStatistics.Median(
                [.. sittings.Select(sitting => SampleStatistics.Median(sitting.Logs))]))), 0, sittings[0].OfBoth);
        }

        var found = sittings[0].Other is null ? RandomSlopes.Of(sittings, usual) : SharingModel.Of(sittings, usual);
        // Of times, as elsewhere, and not of their logarithms: two speeds lie far apart.
        var mean = found.Mean(ofLog);
        if (sittings.Count == 1)
        {
            return ([mean], found.Slopes);
        }

        double[] scores = Evenly(found.Values);
        // The interval over the values has as many degrees of freedom as there are sittings, or a mean of them has.
        var scale = found.StandardError * Quantile(found.Freedom) / Quantile(SampleMean.Freedom(sittings.Count))
            / SampleMean.Of(scores).StandardError;
        return ([.. scores.Select(score => ofLog is null ? mean + (scale * score)
            // Of times that lie far apart some would be less than none.
            : mean * (1 + (Math.Min(scale, (1 - LeastOfMean) / -scores.Min()) * score)))], found.Slopes);
    }

    private static double Quantile(double freedom) => StudentT.InvCDF(0, 1, freedom, (1 + UsualLevel) / 2);

    // In the same order, as normal values lie (Blom 1958).
    private static double[] Evenly(double[] values) => [.. values.Ranks(RankDefinition.First)
        .Select(rank => Normal.InvCDF(0, 1, (rank - BlomShift) / (values.Length + 1 - (2 * BlomShift))))];

    /// <summary>Values about their weighted mean.</summary>
    internal static double[] Centred(double[] values, double[] weights)
    {
        var (sum, all) = (0.0, 0.0);
        for (var at = 0; at < values.Length; at++)
        {
            (sum, all) = (sum + (values[at] * weights[at]), all + weights[at]);
        }

        var mean = sum / all;
        return Array.ConvertAll(values, value => value - mean);
    }
}
