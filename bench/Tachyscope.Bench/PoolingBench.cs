using System.Globalization;
using MathNet.Numerics;
using MathNet.Numerics.Distributions;
using MathNet.Numerics.Statistics;

namespace Tachyscope.Bench;

/// <summary>
/// What other ways of making intervals from the same sittings would bring: simulated logarithms of ratios, one a sitting and contrast, as
/// widths beside Student's t with Bonferroni's level, and how often all intervals of a table hold the truth at once.
/// </summary>
/// <remarks>
/// Moderated t: Smyth, "Linear models and empirical Bayes methods", 2004. Largest t of several contrasts with one baseline: Dunnett, "A
/// multiple comparison procedure", 1955.
/// </remarks>
internal static class PoolingBench
{
    private const int Sittings = 6;
    private const int Tables = 4_000;
    private const double Error = 0.05;

    private static readonly Weather[] Weathers =
    [
        new("equal spreads", 0, 0, 0, 0),
        new("spreads 1 : 8", 1, 0, 0, 0),
        new("spreads 1 : 64", 2, 0, 0, 0),
        new("one sitting in ten an outlier", 0.3, 0.1, 0, 0),
        new("two heaps", 0.3, 0, 0.3, 0),
        new("drift", 0.3, 0, 0, 1),
    ];

    /// <summary>Prints, for tables of 1, 2, 4 and 9 contrasts, each way's width and how often it holds.</summary>
    public static int Run()
    {
        Console.WriteLine($"{"contrasts",9}  {"",-32} {"moderated t",24} {"with a known prior",24} {"largest t",24}   Student's t");
        foreach (var contrasts in (int[])[1, 2, 4, 9])
        {
            foreach (var weather in Weathers)
            {
                Print(contrasts, weather);
            }
        }

        return 0;
    }

    private static void Print(int contrasts, Weather weather)
    {
        var random = new Random(1);
        var level = Error / contrasts;
        var student = Critical(level, Sittings - 1);
        var (largest, known) = (LargestOf(contrasts, new Random(2)), weather.Prior(new Random(3)));
        var held = new int[4];
        List<double>[] widths = [[], [], [], []];
        for (var table = 0; table < Tables; table++)
        {
            var rows = weather.Table(contrasts, random);
            double[] variances = [.. rows.Select(row => row.Variance())];
            var own = Prior.Of(variances, Sittings - 1);
            double[][] reaches =
            [
                [.. variances.Select(variance => student * Math.Sqrt(variance / Sittings))],
                [.. variances.Select(variance => own.Reach(variance, Sittings - 1, level))],
                [.. variances.Select(variance => known.Reach(variance, Sittings - 1, level))],
                [.. variances.Select(variance => largest * Math.Sqrt(variance / Sittings))],
            ];
            for (var way = 0; way < reaches.Length; way++)
            {
                held[way] += Enumerable.Range(0, contrasts).All(row => Math.Abs(rows[row].Mean()) <= reaches[way][row]) ? 1 : 0;
                widths[way].AddRange(reaches[way].Zip(reaches[0], (reach, usual) => reach / usual));
            }
        }

        string Way(int way)
            => string.Create(CultureInfo.InvariantCulture, $"× {widths[way].Median(),5:0.00}, holds {(double)held[way] / Tables,6:P1}");
        Console.WriteLine($"{contrasts,9}  {weather.Name,-32} {Way(1),24} {Way(2),24} {Way(3),24}   {Way(0)}");
    }

    private static double Critical(double level, double freedom)
        => double.IsInfinity(freedom) ? Normal.InvCDF(0, 1, 1 - (level / 2)) : StudentT.InvCDF(0, 1, freedom, 1 - (level / 2));

    // Contrasts with one baseline share its part of every sitting: a correlation of a half.
    private static double LargestOf(int contrasts, Random random)
    {
        var equal = new Weather("", 0, 0, 0, 0);
        var largest = Enumerable.Range(0, 40_000)
            .Select(_ => equal.Table(contrasts, random).Max(row => Math.Abs(row.Mean()) / Math.Sqrt(row.Variance() / Sittings)));
        return largest.Quantile(1 - Error);
    }

    /// <summary>What is known of variances before: as if of so many more degrees of freedom.</summary>
    private sealed record Prior(double Variance, double Freedom)
    {
        // Moments of the logarithm of a variance: its own part is known, the rest is the prior's.
        public static Prior Of(double[] variances, int freedom)
        {
            if (variances.Length < 2)
            {
                return new Prior(variances[0], 0);
            }

            double[] logs = [.. variances.Select(variance => Math.Log(variance) - SpecialFunctions.DiGamma(freedom / 2.0)
                + Math.Log(freedom / 2.0))];
            var excess = logs.Variance() - Trigamma(freedom / 2.0);
            if (excess <= 0)
            {
                return new Prior(Math.Exp(logs.Mean()), double.PositiveInfinity);
            }

            var half = InverseTrigamma(excess);
            return new Prior(Math.Exp(logs.Mean() + SpecialFunctions.DiGamma(half) - Math.Log(half)), 2 * half);
        }

        public double Reach(double variance, int freedom, double level)
        {
            var pooled = double.IsInfinity(Freedom) ? Variance : ((Freedom * Variance) + (freedom * variance)) / (Freedom + freedom);
            return Critical(level, Freedom + freedom) * Math.Sqrt(pooled / Sittings);
        }

        // Abramowitz and Stegun, 6.4.6 and 6.4.12.
        private static double Trigamma(double x)
        {
            var sum = 0.0;
            for (; x < 20; x++)
            {
                sum += 1 / (x * x);
            }

            var inverse = 1 / (x * x);
            return sum + (1 / x) + (inverse / 2) + (inverse / x * ((1.0 / 6) - (inverse / 30)));
        }

        private static double InverseTrigamma(double value)
        {
            var (low, high) = (1e-3, 1e6);
            while (high / low > 1 + 1e-9)
            {
                var middle = Math.Sqrt(low * high);
                (low, high) = Trigamma(middle) > value ? (middle, high) : (low, middle);
            }

            return low;
        }
    }

    /// <summary>How sittings differ, in standard deviations of a variant's own part.</summary>
    /// <param name="Name">What it is called.</param>
    /// <param name="Unequal">How far spreads differ from variant to variant; at 1, by a factor of eight over the middle 90 %.</param>
    /// <param name="Outliers">Share of a variant's sittings that are five times as far off.</param>
    /// <param name="Heaps">Share in a second heap, three deviations off.</param>
    /// <param name="Drift">Slope from the first sitting to the last.</param>
    private sealed record Weather(string Name, double Unequal, double Outliers, double Heaps, double Drift)
    {
        // Standard deviation of log spread: 1.645 of these to each side are a factor of eight.
        private static readonly double Eightfold = Math.Log(8) / (2 * 1.645);

        public double[][] Table(int contrasts, Random random)
        {
            var baseline = Parts(1, random);
            return [.. Enumerable.Range(0, contrasts).Select(_ => Parts(Math.Exp(Unequal * Eightfold * Normal.Sample(random, 0, 1)), random)
                .Zip(baseline, (own, shared) => own - shared).ToArray())];
        }

        // As if it were known from very many studies.
        public Prior Prior(Random random)
            => PoolingBench.Prior.Of([.. Enumerable.Range(0, 2_000).Select(_ => Table(1, random)[0].Variance())], Sittings - 1);

        private double[] Parts(double spread, Random random)
        {
            var slope = Drift * Normal.Sample(random, 0, 1);
            return [.. Enumerable.Range(0, Sittings).Select(sitting =>
            {
                var off = Normal.Sample(random, 0, 1) * (random.NextDouble() < Outliers ? 5 : 1);
                var heap = random.NextDouble() < Heaps ? 3 : 0;
                return spread * (off + heap - (3 * Heaps) + (slope * ((sitting / (Sittings - 1.0)) - 0.5)));
            })];
        }
    }
}
