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
/// a slope times the share of its gauges that were not quiet; the slopes are common to all sittings, and found within them. A ratio has
/// two, of what both of its cells shared and of what one did more than the other, found with Huber's weights ("Robust estimation of a
/// location parameter", 1964). Where calls are unforeseen beside a quiet core each is two, up to half of what may be shared and beyond: a
/// linear spline with one knot (Poirier, "Piecewise regression using cubic splines", 1973). Beforehand each is taken for normal about none
/// (Hoerl and Kennard, "Ridge regression", 1970). The values are spread as much as those of the jackknife (Tukey, "Bias and confidence in
/// not-quite large samples", 1958), so that what the slopes are not known by is in them too.
/// </remarks>
internal static class CoreCovariate
{
    /// <summary>How many times as long something takes at most for sharing its core: two threads leave each other half, and a little less.
    /// </summary>
    public const double MostBySharing = 2.2;

    // What is known of a slope beforehand: it is about as far from none as sharing a core costs, and rounds deviate by a twentieth. That is
    // as much as a hundredth of a round tells: next to nothing where there are any, and no division by zero where there are none.
    private const double UsualSlope = 0.5;
    private const double UsualDeviation = 0.05;

    // Where calls are unforeseen beside a quiet core, the share at which one slope ends and the next begins.
    private const double Knot = 0.5;

    // Two builds of one operation suffer alike from what both share, but for the part in which they differ.
    private const double LeastSlopeOfBuilds = 0.005;

    // As much as one round of ten that is shared by half has of it: with less a sitting tells nothing of what sharing costs.
    private const double LeastVariation = 0.2;
    private const int LeastTelling = 2;
    private const double LeastTellingShare = 0.25;

    // By how much a sitting's own slope may miss the common one, over its value's deviation, squared: of saved runs, one to ten do alike.
    private const double Strangeness = 2;

    // Huber's bound, at which 5 % is lost where nothing is amiss, and how often his weights are found anew; less often where it begins at
    // slopes of nearly the same rounds.
    private const double MostDeviations = 1.345;
    private const int Passes = 5;
    private const int FurtherPasses = 2;
    private const double LeastDeviation = 1e-6;

    private const double BlomShift = 0.375;

    // Of the shortest time, what no sitting's value is moved below.
    private const double LeastOfLowest = 0.1;

    /// <summary>Rounds of a sitting.</summary>
    /// <param name="Logs">Logarithm of the time or the ratio, in each.</param>
    /// <param name="Own">Share of the cell's gauges that were not quiet, in each round.</param>
    /// <param name="Other">The same of the cell it is compared with; null for a time.</param>
    /// <param name="Copies">Copy of the code that was called, in each.</param>
    /// <param name="MayGain">Whether something may take less for sharing its core: calls, where they are foreseen then only.</param>
    public sealed record Rounds(double[] Logs, double[] Own, double[]? Other, int[] Copies, bool MayGain)
    {
        private readonly int[][] _ofCopies = [.. Enumerable.Range(0, Copies.Length).GroupBy(round => Copies[round])
            .Select(copy => copy.ToArray())];
        private Moments? _ofAll;

        /// <summary>Share of the gauges that were not quiet, of all its rounds.</summary>
        public double SharedShare { get; } = SampleStatistics.Mean(Other is null ? Own : [.. Own.Concat(Other)]);

        /// <summary>
        /// What each round shared: of a ratio, all that both did, and then as many of what the first cell did more than the other.
        /// </summary>
        public double[][] Shares { get; } = SharesOf(Own, Other, MayGain);

        /// <summary>How many of the shares are of both cells.</summary>
        public int OfBoth => Other is null ? Shares.Length : Shares.Length / 2;

        /// <summary>What its rounds tell of slopes, where all count alike.</summary>
        public Moments OfAll => _ofAll ??= Weighted(Array.ConvertAll(Logs, static _ => 1.0));

        /// <summary>Sum of squares of the first shares about their mean.</summary>
        public double Variation => OfAll.Products[0, 0];

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
    private static double[][] SharesOf(double[] own, double[]? other, bool mayGain)
    {
        Func<double, double>[] parts = mayGain
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

    /// <summary>Whether it was shared more and less in any of them.</summary>
    /// <param name="sittings">Their rounds; null, or without any, where a sitting has none.</param>
    public static bool IsAnyTelling(IReadOnlyList<Rounds?> sittings)
        => sittings.OfType<Rounds>().Any(rounds => rounds.Logs.Length > 0 && IsTelling(rounds));

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

    // About the mean of all, as far apart as leaving each out moves it; and the slopes.
    private static (double[] Values, Vector<double> Slopes) Spread(List<Rounds> sittings, bool areBuilds, Func<double, double>? ofLog)
    {
        var usual = Array.ConvertAll(sittings[0].Shares, static _ => UsualSlope);
        double[] weights = [.. sittings.Select(sitting => 1 / (1 + (Strangeness * Math.Pow(sitting.SharedShare, 2))))];
        if (areBuilds)
        {
            Array.Fill(usual, LeastSlopeOfBuilds + (UsualSlope * Math.Abs(SampleStatistics.Median(
                [.. sittings.Select(sitting => SampleStatistics.Median(sitting.Logs))]))), 0, sittings[0].OfBoth);
        }

        var slopes = Slopes(sittings, usual, null);
        if (sittings.Count <= 2)
        {
            return ([.. sittings.Select(sitting => Value(sitting, slopes))], slopes);
        }

        var mean = WeightedMean(slopes, -1);
        double[] without = [.. sittings.Select((_, left)
            => WeightedMean(Slopes([.. sittings.Where((_, place) => place != left)], usual, slopes), left))];
        var meanWithout = SampleStatistics.Mean(without);
        var deviations = Evenly([.. without.Select(left => (sittings.Count - 1) * (meanWithout - left))]);
        // Of times that lie far apart some would be less than none.
        var room = ofLog is null ? double.PositiveInfinity : mean - (LeastOfLowest * sittings.Min(sitting => Value(sitting, slopes)));
        var part = Math.Min(1, room / Math.Max(double.Epsilon, -deviations.Min()));
        return ([.. deviations.Select(deviation => mean + (part * deviation))], slopes);

        // The more a sitting was shared, the more hangs on a slope that may not be its own.
        double WeightedMean(Vector<double> found, int left)
        {
            var (sum, all) = (0.0, 0.0);
            for (var place = 0; place < sittings.Count; place++)
            {
                var weight = place == left ? 0 : weights[place];
                (sum, all) = (sum + (weight * Value(sittings[place], found)), all + weight);
            }

            return sum / all;
        }

        double Value(Rounds sitting, Vector<double> found)
        {
            var log = sitting.Value(found);
            return ofLog is null ? log : ofLog(log);
        }
    }

    // In the same order and with the same standard error, as normal values lie (Blom 1958). Where few sittings tell of the slopes theirs
    // are as far out as the others are many, and a mean that leaves the outermost out would leave out all that is known.
    private static double[] Evenly(double[] deviations)
    {
        var ranks = deviations.Ranks(RankDefinition.First);
        double[] scores = [.. ranks.Select(rank => Normal.InvCDF(0, 1, (rank - BlomShift) / (deviations.Length + 1 - (2 * BlomShift))))];
        var scale = ArrayStatistics.StandardDeviation(deviations) / Math.Sqrt(deviations.Length) / SampleMean.Of(scores).StandardError;
        return Array.ConvertAll(scores, score => scale * score);
    }

    // A ratio's rounds lie along a line but for strays. A time's lie where others' work put them, and the few quiet ones among them, of
    // which it is to be told, would be taken for strays.
    private static Vector<double> Slopes(List<Rounds> sittings, double[] usual, Vector<double>? near)
    {
        var isPair = sittings[0].Other is not null;
        var slopes = near is not null && isPair ? near : LeastSquares(sittings.Select(sitting => sitting.OfAll), usual, UsualDeviation);
        if (!isPair)
        {
            // Else nothing takes less time for sharing its core: what looks like it is a speed that changed beside.
            return sittings.Exists(sitting => sitting.MayGain) ? slopes : slopes.PointwiseMaximum(0);
        }

        double[][] weights = [.. sittings.Select(sitting => Array.ConvertAll(sitting.Logs, static _ => 1.0))];
        var magnitudes = new double[sittings.Sum(sitting => sitting.Logs.Length)];
        for (var pass = near is null ? 0 : Passes - FurtherPasses; pass < Passes; pass++)
        {
            double[][] residuals = [.. sittings.Zip(weights, (sitting, weight) => Centred(sitting.Residuals(slopes), weight))];
            var filled = 0;
            foreach (var own in residuals)
            {
                foreach (var residual in own)
                {
                    magnitudes[filled++] = Math.Abs(residual);
                }
            }

            var deviation = Math.Max(LeastDeviation, SampleStatistics.NormalDeviations * SampleStatistics.Median(magnitudes));
            var most = MostDeviations * deviation;
            weights = Array.ConvertAll(residuals, own => Array.ConvertAll(own, residual => most / Math.Max(most, Math.Abs(residual))));
            slopes = LeastSquares(sittings.Zip(weights, (sitting, weight) => sitting.Weighted(weight)), usual, deviation);
        }

        return slopes;
    }

    // Of what is left without each sitting's mean.
    private static Vector<double> LeastSquares(IEnumerable<Moments> sittings, double[] usual, double deviation)
    {
        var products = Matrix<double>.Build.DenseOfDiagonalArray(Array.ConvertAll(usual, slope => Math.Pow(deviation / slope, 2)));
        var right = Vector<double>.Build.Dense(usual.Length);
        foreach (var own in sittings)
        {
            for (var slope = 0; slope < usual.Length; slope++)
            {
                right[slope] += own.Right[slope];
                for (var other = 0; other < usual.Length; other++)
                {
                    products[slope, other] += own.Products[slope, other];
                }
            }
        }

        return products.Solve(right);
    }

    private static double[] Centred(double[] values, double[] weights)
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
