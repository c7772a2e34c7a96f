using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Growth;

/// <summary>Fits laws of growth to times, so that one odd size does not bend them.</summary>
/// <remarks>
/// T(n) = a + b · g(n) with a ≥ 0 and b > 0 is chosen for the least sum of |T(n) − t| / t: least absolute deviations
/// (Boscovich, 1757), which the line through some two of the points attains, or that through one with a = 0; with so few
/// sizes all are tried.
/// </remarks>
internal static class LawFitter
{
    // What caches, branches and the remainders of vectors do to real code; beyond that a law is not what is seen.
    private const double ToleranceShare = 0.1;
    private const double MostToleranceShare = 0.25;
    private const double LeastStep = 1.2;
    private const int FewestSizes = 3;
    private const int FewestOnEachSide = 2;
    private const int FewestSizesForStep = 5;

    private static readonly (GrowthLaw Law, Func<double, double> Of)[] Laws =
    [
        (GrowthLaw.Logarithmic, Math.Log2),
        (GrowthLaw.Linear, size => size),
        (GrowthLaw.Linearithmic, size => size * Math.Log2(size)),
        (GrowthLaw.Quadratic, size => size * size),
        (GrowthLaw.Cubic, size => size * size * size),
    ];

    /// <summary>
    /// The laws that fit, simplest first; a law of none when none does, nothing at all with too few sizes or times too unsure.
    /// </summary>
    /// <param name="sizes">The sizes.</param>
    /// <param name="series">Times at each, over sittings.</param>
    /// <param name="level">Level of the intervals that times may be off by.</param>
    public static IReadOnlyList<FittedLaw> Fit(IReadOnlyList<int> sizes, double[][] series, double level)
    {
        double[] times = [.. series.Select(values => SampleStatistics.Mean(values))];
        if (sizes.Count < FewestSizes || !Array.TrueForAll(times, time => time > 0))
        {
            return [];
        }

        double[] tolerances = [.. Unsure(series, level).Select(unsure => Math.Max(ToleranceShare, double.IsFinite(unsure) ? unsure : 0))];
        return tolerances.Max() > MostToleranceShare ? [] : Fit([.. sizes.Select(size => (double)size)], times, tolerances);
    }

    // How far each size's time may be off beside those of the same sittings: what slows all of a sitting bends no law.
    private static IEnumerable<double> Unsure(double[][] series, double level)
    {
        double[] middles = [.. Enumerable.Range(0, series[0].Length)
            .Select(sitting => SampleStatistics.Mean([.. series.Select(times => Math.Log(times[sitting]))]))];
        return series.Select(times => Math.Exp(SampleStatistics.MeanInterval(
            [.. times.Select((time, sitting) => Math.Log(time) - middles[sitting])], level).HalfWidth) - 1);
    }

    private static List<FittedLaw> Fit(double[] sizes, double[] times, double[] tolerances)
    {
        var fitting = new List<FittedLaw>();
        Keep(GrowthLaw.Constant, Array.ConvertAll(times, _ => Central(times)));
        foreach (var (law, of) in Laws)
        {
            double[] growing = [.. sizes.Select(of)];
            var (fixedPart, slope) = Line(growing, times);
            Keep(law, [.. growing.Select(value => fixedPart + (slope * value))]);
        }

        return fitting.Count > 0 ? fitting : [Step(sizes, times, tolerances) ?? new FittedLaw(GrowthLaw.None, double.NaN)];

        void Keep(GrowthLaw law, double[] fitted)
        {
            double[] off = [.. fitted.Select((time, index) => Math.Abs((time / times[index]) - 1))];
            if (Enumerable.Range(0, off.Length).All(index => off[index] <= tolerances[index]))
            {
                fitting.Add(new FittedLaw(law, off.Max()));
            }
        }
    }

    // The constant in the middle of the logs is off by the same factor at either end.
    private static double Central(double[] times) => Math.Sqrt(times.Min() * times.Max());

    private static (double Fixed, double Slope) Line(double[] growing, double[] times)
    {
        var best = (Fixed: 0.0, Slope: 0.0);
        var least = double.PositiveInfinity;
        for (var one = 0; one < times.Length; one++)
        {
            Try(0, times[one] / growing[one]);
            for (var other = one + 1; other < times.Length; other++)
            {
                var slope = (times[other] - times[one]) / (growing[other] - growing[one]);
                Try(times[one] - (slope * growing[one]), slope);
            }
        }

        return best;

        void Try(double fixedPart, double slope)
        {
            var sum = 0.0;
            for (var index = 0; index < times.Length; index++)
            {
                sum += Math.Abs(((fixedPart + (slope * growing[index])) / times[index]) - 1);
            }

            if (fixedPart >= 0 && slope > 0 && double.IsFinite(slope) && sum < least)
            {
                (best, least) = ((fixedPart, slope), sum);
            }
        }
    }

    private static FittedLaw? Step(double[] sizes, double[] times, double[] tolerances)
    {
        FittedLaw? best = null;
        for (var before = FewestOnEachSide; sizes.Length >= FewestSizesForStep && before <= sizes.Length - FewestOnEachSide; before++)
        {
            var (fixedPart, slope) = Line(sizes[..before], times[..before]);
            double[] rest = [.. times[before..].Select(time => time - fixedPart)];
            var later = Array.TrueForAll(rest, time => time > 0)
                ? SampleStatistics.Median([.. rest.Select((time, index) => time / sizes[before + index])])
                : double.NaN;
            double[] off = [.. sizes.Select((size, index) => Math.Abs(((fixedPart + ((index < before
                ? slope
                : later) * size)) / times[index]) - 1))];
            var fits = Enumerable.Range(0, off.Length).All(index => off[index] <= tolerances[index]);
            if (fits && later / slope >= LeastStep && !(off.Max() >= best?.WorstShare))
            {
                best = new FittedLaw(GrowthLaw.LinearWithStep, off.Max(), (int)sizes[before - 1], later / slope);
            }
        }

        return best;
    }
}
