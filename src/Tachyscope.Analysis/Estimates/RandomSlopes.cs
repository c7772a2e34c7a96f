using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Factorization;
using MathNet.Numerics.Statistics;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Estimates;

/// <summary>Times beside a quiet core, of sittings in each of which somebody else shared it.</summary>
/// <remarks>
/// Who only computes slows others less than who goes through memory, and one sitting has the former beside it and the next the latter. So
/// a round's logarithm is a value and a slope for each of its shares, what its sitting deviates by in all of these, and chance: random
/// intercepts and slopes (Laird and Ware, "Random-effects models for longitudinal data", 1982). How far sittings spread is found by
/// restricted maximum likelihood (Patterson and Thompson, "Recovery of inter-block information when block sizes are unequal", 1971), with
/// priors worth a third and a half of one of them. Rounds count by the weights that <see cref="SharingModel"/> has, and degrees of freedom
/// are Satterthwaite's ("An approximate distribution of estimates of variance components", 1946), but no more than twice the sittings that
/// a mean of equal weights would have: those that were shared tell little of how far the others spread.
/// </remarks>
internal sealed class RandomSlopes
{
    private const int Passes = 4;

    // Of times the few quiet rounds lie far off the others; what deviates by less is never a stray.
    private const double UsualDeviation = 0.05;
    private const double LeastDeviation = 1e-4;

    // What sittings' values and slopes spread by, as so much of one would tell: two quiet sittings may happen to be alike.
    private const double UsualSpread = 0.005;
    private const double SpreadFreedom = 0.3;
    private const double UsualSlopeSpread = 0.05;
    private const double SlopeSpreadFreedom = 0.5;

    private const double LeastSpread = 1e-4;
    private const double MostSpread = 3;
    private const double LeastGain = 0.01;

    // Of the logarithm of a spread, for derivatives, and the least that they come to.
    private const double Step = 0.2;
    private const double LeastCurvature = 0.1;
    private const double LeastUncertainty = 1e-3;

    // Degrees of freedom, over what there are of sittings that count alike.
    private const double MostOfEqual = 2;

    private static readonly double[] Steps = [4, 1.6];

    // Two thirds of all slopes lie within what sharing moves any: what is ten times as slow in some sittings is so by itself.
    private static readonly double MostSlopeSpread = Math.Log(CoreCovariate.MostBySharing) / 2;

    private readonly IReadOnlyList<CoreCovariate.Rounds> _sittings;
    private readonly double[] _usual;
    private readonly Func<double, double> _weightOf;
    private readonly Matrix<double>[] _products;
    private readonly Vector<double>[] _right;
    private readonly double[] _deviations;
    private double[][] _residuals = [];
    private double _pooled = UsualDeviation;
    private (double Values, double Slopes) _spread = (0.02, 0.05);

    private RandomSlopes(IReadOnlyList<CoreCovariate.Rounds> sittings, double[] usual, Func<double, double> weightOf)
    {
        (_sittings, _usual, _weightOf) = (sittings, usual, weightOf);
        _products = new Matrix<double>[sittings.Count];
        _right = new Vector<double>[sittings.Count];
        _deviations = [.. sittings.Select(static _ => UsualDeviation)];
    }

    /// <summary>Finds them.</summary>
    /// <param name="sittings">Rounds of each sitting; at least one sitting, and one round in each.</param>
    /// <param name="usual">How far from none each slope is taken for beforehand.</param>
    public static SharingModel Of(IReadOnlyList<CoreCovariate.Rounds> sittings, double[] usual)
    {
        RandomSlopes[] fits = [new(sittings, usual, SharingModel.Huber), new(sittings, usual, SharingModel.Tukey)];
        fits[0].Find([.. sittings.Select(sitting => Near(sitting.Logs))]);
        fits[1].Find(fits[1].NearLine());
        var pooled = fits.Min(fit => fit._pooled);
        return fits.MinBy(fit => fit.Unlikely(pooled))!.Model();
    }

    // Further from the middle than sharing moves any lie those that somebody else held the processor in, and one such, among the first or
    // the last to be shared, would turn the line.
    private static double[] Near(double[] logs)
    {
        var middle = SampleStatistics.Median(logs);
        return Array.ConvertAll(logs, log => Math.Abs(log - middle) < Math.Log(CoreCovariate.MostBySharing) ? 1.0 : 0);
    }

    // About the line through the middles of sittings.
    private double[][] NearLine()
    {
        var slopes = Vector<double>.Build.Dense(_usual.Length);
        // Through as many points as a line has slopes, and one more, there is always one.
        if (_sittings.Count > _usual.Length + 1)
        {
            double[] middles = [.. _sittings.Select(sitting => SampleStatistics.Median(sitting.Logs))];
            double[][] shares = [.. Enumerable.Range(0, _usual.Length)
                .Select(slope => _sittings.Select(sitting => ArrayStatistics.Mean(sitting.Shares[slope])).ToArray())];
            var told = CoreCovariate.Moments.Of(middles, shares, Array.ConvertAll(middles, static _ => 1.0));
            var products = Matrix<double>.Build.DenseOfArray(told.Products)
                + Matrix<double>.Build.DenseOfDiagonalArray(Array.ConvertAll(_usual, slope => Math.Pow(UsualDeviation / slope, 2)));
            slopes = products.Solve(Vector<double>.Build.Dense(told.Right));
        }

        return Weigh(sitting => (_sittings[sitting].Value(slopes), slopes));
    }

    private void Find(double[][] weights)
    {
        for (var pass = 0; pass < Passes; pass++)
        {
            Gather(weights);
            if (pass is 0 or Passes - 1)
            {
                Search();
            }

            var found = At(_spread);
            weights = Weigh(sitting => Own(found, sitting));
        }

        Gather(weights);
    }

    // By how far rounds lie off the line of their sitting.
    private double[][] Weigh(Func<int, (double Value, Vector<double> Slopes)> line)
    {
        _residuals = [.. _sittings.Select((sitting, at) =>
        {
            var (value, slopes) = line(at);
            return Array.ConvertAll(sitting.Residuals(slopes), residual => residual - value);
        })];
        _pooled = Math.Max(LeastDeviation, Deviation([.. _residuals.SelectMany(static own => own)]));
        for (var sitting = 0; sitting < _deviations.Length; sitting++)
        {
            _deviations[sitting] = Math.Max(_pooled, Deviation(_residuals[sitting]));
        }

        return [.. _residuals.Select((own, sitting) => Array.ConvertAll(own,
            residual => _weightOf(Math.Abs(residual) / Math.Max(UsualDeviation, _deviations[sitting]))))];
    }

    private static double Deviation(double[] residuals)
        => SampleStatistics.NormalDeviations * SampleStatistics.Median(Array.ConvertAll(residuals, Math.Abs));

    // What each sitting's rounds tell of its value and slopes.
    private void Gather(double[][] weights)
    {
        for (var sitting = 0; sitting < _sittings.Count; sitting++)
        {
            var rounds = _sittings[sitting];
            var terms = Matrix<double>.Build.DenseOfColumnArrays(
                [Array.ConvertAll(rounds.Logs, static _ => 1.0), .. rounds.Shares]);
            var weighted = Matrix<double>.Build.DiagonalOfDiagonalArray(
                Array.ConvertAll(weights[sitting], weight => weight / (_deviations[sitting] * _deviations[sitting]))) * terms;
            _products[sitting] = weighted.TransposeThisAndMultiply(terms);
            _right[sitting] = weighted.TransposeThisAndMultiply(Vector<double>.Build.Dense(rounds.Logs));
        }
    }

    // One step after another, as long as it becomes likelier.
    private void Search()
    {
        var best = At(_spread).Unlikely;
        HashSet<(double, double)> tried = [_spread];
        foreach (var step in Steps)
        {
            // Bounded on either side, and likelier each time.
            for (var isMoved = true; isMoved;)
            {
                isMoved = false;
                foreach (var (values, slopes) in ((double, double)[])[(step, 1), (1 / step, 1), (1, step), (1, 1 / step)])
                {
                    var next = (Math.Clamp(_spread.Values * values, LeastSpread, MostSpread),
                        Math.Clamp(_spread.Slopes * slopes, LeastSpread, MostSlopeSpread));
                    if (tried.Add(next) && At(next).Unlikely is var unlikely && unlikely < best - LeastGain)
                    {
                        (_spread, best, isMoved) = (next, unlikely, true);
                    }
                }
            }
        }
    }

    private static double Prior(double spread, double usual, double freedom)
        => freedom * ((2 * Math.Log(spread)) + Math.Pow(usual / spread, 2));

    private Vector<double> OfSpread((double Values, double Slopes) spread)
        => Vector<double>.Build.Dense(_usual.Length + 1, term => Math.Pow(term == 0 ? spread.Values : spread.Slopes, -2));

    // The value and slopes that are likeliest where sittings spread so far.
    private Fit At((double Values, double Slopes) spread)
    {
        var ofSpread = OfSpread(spread);
        var unlikely = Prior(spread.Values, UsualSpread, SpreadFreedom) + Prior(spread.Slopes, UsualSlopeSpread, SlopeSpreadFreedom)
            - (_sittings.Count * ofSpread.Sum(Math.Log));
        var all = Matrix<double>.Build.DenseOfDiagonalArray([0, .. _usual.Select(slope => 1 / (slope * slope))]);
        // What a sitting tells of all of them, through what it deviates by itself.
        var (told, values) = (new Matrix<double>[_sittings.Count], new Vector<double>[_sittings.Count]);
        for (var sitting = 0; sitting < told.Length; sitting++)
        {
            var own = _products[sitting].Clone();
            own.SetDiagonal(own.Diagonal() + ofSpread);
            var solved = own.Cholesky();
            // Column by column: of a matrix each would be solved for on a thread of its own.
            told[sitting] = Matrix<double>.Build.DenseOfColumnVectors(
                _products[sitting].EnumerateColumns().Select(column => solved.Solve(column)));
            values[sitting] = solved.Solve(_right[sitting]);
            unlikely += solved.DeterminantLn;
        }

        var ofAll = Matrix<double>.Build.DiagonalOfDiagonalVector(ofSpread);
        var known = (all + (ofAll * told.Aggregate(static (sum, each) => sum + each))).Cholesky();
        var found = known.Solve(ofAll * values.Aggregate(static (sum, each) => sum + each));
        Vector<double>[] beyond = [.. values.Zip(told, (value, each) => value - (each * found))];
        for (var sitting = 0; sitting < beyond.Length; sitting++)
        {
            var products = _products[sitting] * found;
            unlikely += (found * products) - (2 * (found * _right[sitting])) - ((_right[sitting] - products) * beyond[sitting]);
        }

        unlikely += known.DeterminantLn + _usual.Select((slope, at) => Math.Pow(found[at + 1] / slope, 2)).Sum();
        return new Fit(found, beyond, told, known, unlikely);
    }

    private static (double Value, Vector<double> Slopes) Own(Fit found, int sitting)
        => (found.Common[0] + found.Own[sitting][0],
            (found.Common + found.Own[sitting]).SubVector(1, found.Common.Count - 1));

    // As that of a ratio.
    private double Unlikely(double deviation)
        => SharingModel.Unlikely(_residuals, deviation) + (2 * _sittings.Count * Math.Log(_spread.Values));

    private SharingModel Model()
    {
        var found = At(_spread);
        var covariance = found.Covariance;
        var ofSpread = Matrix<double>.Build.DiagonalOfDiagonalVector(OfSpread(_spread));
        double[] weights = [.. found.Told.Select(told => Math.Abs((covariance * ofSpread * told)[0, 0]))];
        var sum = weights.Sum();
        weights = Array.ConvertAll(weights, weight => weight / sum);
        double[] values = [.. found.Own.Select(own => found.Common[0] + own[0])];
        var off = found.Common[0] - values.Zip(weights, static (value, weight) => value * weight).Sum();
        var equal = 1 / weights.Sum(static weight => weight * weight);
        return new SharingModel(found.Common.SubVector(1, _usual.Length), Array.ConvertAll(values, value => value + off), weights,
            Math.Sqrt(covariance[0, 0]), Math.Max(1, Math.Min(Satterthwaite(), (MostOfEqual * equal) - 1)));
    }

    // By how much the variance of the value hangs on the spreads, and how well these are known.
    private double Satterthwaite()
    {
        var unlikely = At(_spread).Unlikely;
        var (ofValues, ofSlopes) = (Along(1, 0), Along(0, 1));
        var across = (Moved(1, 1).Unlikely + Moved(-1, -1).Unlikely - Moved(1, -1).Unlikely - Moved(-1, 1).Unlikely) / (4 * Step * Step);
        var gradient = Vector<double>.Build.Dense([ofValues.Slope, ofSlopes.Slope]);
        var curvature = Matrix<double>.Build.DenseOfArray(new[,] { { ofValues.Curvature, across }, { across, ofSlopes.Curvature } });
        return 1 / Math.Max(LeastUncertainty, gradient * curvature.Solve(gradient));

        Fit Moved(int values, int slopes) => At((_spread.Values * Math.Exp(values * Step), _spread.Slopes * Math.Exp(slopes * Step)));

        (double Slope, double Curvature) Along(int values, int slopes)
        {
            var (more, less) = (Moved(values, slopes), Moved(-values, -slopes));
            return (Math.Log(more.Covariance[0, 0] / less.Covariance[0, 0]) / (2 * Step),
                Math.Max(LeastCurvature, (more.Unlikely + less.Unlikely - (2 * unlikely)) / (Step * Step)));
        }
    }

    // The common value and slopes, what each sitting has beyond them, what each told of them, how well they are known, and twice the
    // logarithm of how unlikely that is.
    private sealed record Fit(
        Vector<double> Common, Vector<double>[] Own, Matrix<double>[] Told, Cholesky<double> Known, double Unlikely)
    {
        public Matrix<double> Covariance => Known.Solve(Matrix<double>.Build.DenseIdentity(Common.Count));
    }
}
