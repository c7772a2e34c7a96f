using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.Statistics;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Estimates;

/// <summary>By how much sharing its core moved the rounds of sittings, and how well the mean of what they are without is known.</summary>
/// <param name="Slopes">By how much a round is more for each of its shares.</param>
/// <param name="Values">What each sitting is without.</param>
/// <param name="Weights">What each of them counts.</param>
/// <param name="StandardError">Standard error of the mean of the values.</param>
/// <param name="Freedom">Degrees of freedom of that, one or more.</param>
/// <remarks>
/// Of ratios, which suffer alike whoever shares their core (<see cref="RandomSlopes"/> has times, which do not): a round is its sitting's
/// value, a slope times each of its shares, and chance; sittings' values deviate by chance too, a little more where there are few rounds.
/// Slopes are found within sittings and between them, each weighed by what it is known by (recovery of inter-block information: Yates, "The
/// recovery of inter-block information in balanced incomplete block designs", 1940; as a model of random effects: Laird and Ware,
/// "Random-effects models for longitudinal data", 1982): where one sitting had the core to itself and the next shared it from beginning to
/// end, nothing within either tells what the two of them do. Beforehand slopes are taken for normal about none (Hoerl and Kennard, "Ridge
/// regression", 1970). Rounds count by Huber's weights ("Robust estimation of a location parameter", 1964), or by those of Tukey's bisquare
/// (Beaton and Tukey, "The fitting of power series", 1974). Degrees of freedom are put together as Satterthwaite, "An approximate
/// distribution of estimates of variance components", 1946, does.
/// </remarks>
internal sealed record SharingModel(Vector<double> Slopes, double[] Values, double[] Weights, double StandardError, double Freedom)
{
    private const double UsualDeviation = 0.05;
    private const double LeastDeviation = 1e-6;

    // Bounds at which 5 % is lost where nothing is amiss.
    private const double MostDeviations = 1.345;
    private const double MostOfTukey = 4.685;
    private const int Passes = 8;

    // Beyond that a round is a stray, however far.
    private const double FarDeviations = 3;

    // What sittings deviate by, as a tenth of one would tell: a few may happen to lie on a line.
    private const double PriorDeviation = 0.003;
    private const double PriorFreedom = 0.1;

    // Rounds that deviate by as much as sittings do among which chance alone is at work.
    private const double RoundsOfOne = 3;

    /// <summary>Finds it.</summary>
    /// <param name="sittings">Rounds of each sitting; at least one sitting, and one round in each.</param>
    /// <param name="usual">How far from none each slope is taken for beforehand.</param>
    public static SharingModel Of(IReadOnlyList<CoreCovariate.Rounds> sittings, double[] usual)
    {
        // Where few rounds of a sitting were quiet, or few shared, one that was disturbed turns the line of all of them, however little it
        // weighs; what sittings tell of each other may tell that it is disturbed, and tells nothing where they are alike.
        Fit[] fits = [
            Fit.From(sittings, usual, [.. sittings.Select(sitting => Array.ConvertAll(sitting.Logs, static _ => 1.0))], Huber),
            Fit.From(sittings, usual, [.. sittings.Select(sitting => new double[sitting.Logs.Length])], Tukey)];
        var least = fits.Min(fit => fit.Deviation);
        var (slopes, deviation, products, between) = fits.MinBy(fit => (sittings.Count * Math.Log(fit.Between.Variance))
            + Unlikely(sittings.Select(sitting => About(sitting, fit.Slopes)), least))!;
        var (counts, shares) = between.Mean();
        var (ofSittings, ofSlopes) = (1 / counts.Sum(), deviation * deviation * (shares * products.Solve(shares)));
        // What rounds tell of the slopes varies from sitting to sitting, and what sittings do has as many degrees of freedom as they leave.
        var (all, byFew) = (ofSittings + ofSlopes, ofSittings + (ofSlopes * between.SlopesFound / slopes.Count));
        var freedom = all * all / ((byFew * byFew / between.Freedom) + (Math.Pow(all - byFew, 2) / Math.Max(1, sittings.Count - 1)));
        return new SharingModel(slopes, [.. sittings.Select(sitting => sitting.Value(slopes))], counts, Math.Sqrt(all), freedom);
    }

    /// <summary>The mean of what sittings have.</summary>
    /// <param name="of">What is to be averaged, of a sitting's value; null for the value.</param>
    public double Mean(Func<double, double>? of)
        => WeightedMean(of is null ? Values : Array.ConvertAll(Values, value => of(value)), Weights);

    private static double WeightedMean(double[] values, double[] weights)
        => values.Zip(weights, (value, weight) => value * weight).Sum() / weights.Sum();

    /// <summary>What a round counts by Huber's weights.</summary>
    /// <param name="deviations">How many deviations it is off.</param>
    public static double Huber(double deviations) => MostDeviations / Math.Max(MostDeviations, deviations);

    /// <summary>What it counts by Tukey's.</summary>
    /// <param name="deviations">How many deviations it is off.</param>
    public static double Tukey(double deviations)
        => deviations < MostOfTukey ? Math.Pow(1 - Math.Pow(deviations / MostOfTukey, 2), 2) : 0;

    // By how far they lie off the line of their sitting.
    private static (double Deviation, double[][] Weights) Weigh(
        IReadOnlyList<CoreCovariate.Rounds> sittings, double[][] weights, Vector<double> slopes, Func<double, double> weightOf)
    {
        double[][] residuals = [.. sittings.Zip(weights, (sitting, weight) => weight.Sum() > 0
            ? CoreCovariate.Centred(sitting.Residuals(slopes), weight)
            : About(sitting, slopes))];
        var deviation = Math.Max(LeastDeviation,
            SampleStatistics.NormalDeviations * SampleStatistics.Median([.. residuals.SelectMany(own => own.Select(Math.Abs))]));
        return (deviation, Array.ConvertAll(residuals, own => Array.ConvertAll(own, residual => weightOf(Math.Abs(residual) / deviation))));
    }

    /// <summary>
    /// Twice the logarithm of how unlikely rounds are, by how far they lie off the line of their sitting, as far as that counts.
    /// </summary>
    /// <param name="residuals">How far, of each sitting.</param>
    /// <param name="deviation">What rounds deviate by.</param>
    public static double Unlikely(IEnumerable<double[]> residuals, double deviation)
        => residuals.Sum(own => own.Sum(residual => Math.Min(FarDeviations * FarDeviations, Math.Pow(residual / deviation, 2))));

    private static double[] About(CoreCovariate.Rounds sitting, Vector<double> slopes)
    {
        var value = sitting.Value(slopes);
        return Array.ConvertAll(sitting.Residuals(slopes), residual => residual - value);
    }

    private sealed record Fit(Vector<double> Slopes, double Deviation, Matrix<double> Products, Sittings Between)
    {
        public static Fit From(
            IReadOnlyList<CoreCovariate.Rounds> sittings, double[] usual, double[][] weights, Func<double, double> weightOf)
        {
            var (slopes, between) = (Vector<double>.Build.Dense(usual.Length), new Sittings(sittings));
            var (deviation, products) = (UsualDeviation, Matrix<double>.Build.Dense(usual.Length, usual.Length));
            for (var pass = 0; pass < Passes; pass++)
            {
                if (pass > 0)
                {
                    (deviation, weights) = Weigh(sittings, weights, slopes, weightOf);
                }

                products = Matrix<double>.Build.DenseOfDiagonalArray(Array.ConvertAll(usual, slope => Math.Pow(deviation / slope, 2)));
                var right = Vector<double>.Build.Dense(usual.Length);
                foreach (var (sitting, weight) in sittings.Zip(weights).Where(own => own.Second.Sum() > 0))
                {
                    var own = sitting.Weighted(weight);
                    products += Matrix<double>.Build.DenseOfArray(own.Products);
                    right += Vector<double>.Build.Dense(own.Right);
                }

                var (betweenProducts, betweenRight) = between.Told(slopes, deviation);
                products += betweenProducts;
                slopes = products.Solve(right + betweenRight);
                between.Learn(slopes, products.Solve(betweenProducts).Trace());
            }

            return new Fit(slopes, deviation, products, between);
        }
    }

    // Sittings as single observations.
    private sealed class Sittings
    {
        private readonly IReadOnlyList<CoreCovariate.Rounds> _sittings;
        private readonly Vector<double>[] _shares;
        private readonly double[] _looseness;

        public Sittings(IReadOnlyList<CoreCovariate.Rounds> sittings)
        {
            _sittings = sittings;
            _shares = [.. sittings.Select(sitting => Vector<double>.Build.Dense(Array.ConvertAll(sitting.Shares, ArrayStatistics.Mean)))];
            _looseness = [.. sittings.Select(sitting => 1 + (RoundsOfOne / sitting.Logs.Length))];
        }

        public double Freedom { get; private set; } = 1;

        // How many slopes they tell of, of those that are known of them and of rounds together.
        public double SlopesFound { get; private set; }

        public double Variance { get; private set; } = UsualDeviation * UsualDeviation;

        // What their values tell of the slopes, in units of a round's variance.
        public (Matrix<double> Products, Vector<double> Right) Told(Vector<double> slopes, double deviation)
        {
            var products = Matrix<double>.Build.Dense(slopes.Count, slopes.Count);
            var right = Vector<double>.Build.Dense(slopes.Count);
            // Through as many points as a line has slopes, and one more, there is always one.
            if (_sittings.Count <= slopes.Count + 1)
            {
                return (products, right);
            }

            var (values, weights) = (Values(slopes), Weights());
            var (mean, centre) = (WeightedMean(values, weights), Shares(weights));
            for (var sitting = 0; sitting < weights.Length; sitting++)
            {
                var (off, weight) = (_shares[sitting] - centre, deviation * deviation * weights[sitting]);
                products += weight * off.OuterProduct(off);
                // As they were read, slopes included.
                right += weight * (values[sitting] - mean + (off * slopes)) * off;
            }

            return (products, right);
        }

        // What they deviate by.
        public void Learn(Vector<double> slopes, double slopesFound)
        {
            var values = Values(slopes);
            var mean = WeightedMean(values, Array.ConvertAll(_looseness, looseness => 1 / looseness));
            var squares = values.Zip(_looseness, (value, looseness) => Math.Pow(value - mean, 2) / looseness).Sum();
            SlopesFound = slopesFound;
            var freedom = Math.Max(0, values.Length - 1 - slopesFound);
            Variance = ((PriorFreedom * PriorDeviation * PriorDeviation) + squares) / (PriorFreedom + freedom);
            Freedom = Math.Max(1, freedom);
        }

        // What each counts in their mean, and the shares it lies at.
        public (double[] Weights, Vector<double> Shares) Mean()
        {
            var weights = Weights();
            return (weights, Shares(weights));
        }

        private double[] Values(Vector<double> slopes) => [.. _sittings.Select(sitting => sitting.Value(slopes))];

        private Vector<double> Shares(double[] weights)
            => _shares.Zip(weights, (shares, weight) => shares * weight).Aggregate((sum, shares) => sum + shares) / weights.Sum();

        private double[] Weights() => Array.ConvertAll(_looseness, looseness => 1 / (Variance * looseness));
    }
}
