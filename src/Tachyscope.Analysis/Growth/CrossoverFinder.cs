using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Growth;

/// <summary>Finds where two rows take equally long, between sizes at which one and then the other is faster.</summary>
internal static class CrossoverFinder
{
    private const int StepsPerSegment = 64;

    public static Interval Find(IReadOnlyList<CrossingPoint> points, double level)
    {
        var (first, second) = (Find(points, level, AlongLogarithms), Find(points, level, AlongTimes));
        return new Interval(Math.Sqrt(first.Estimate * second.Estimate), Math.Min(first.Lower, second.Lower),
            Math.Max(first.Upper, second.Upper), level);
    }

    // The ratio's interval holds 0 between the outermost places at which one of its ends passes 0.
    private static Interval Find(IReadOnlyList<CrossingPoint> points, double level,
        Func<CrossingPoint, CrossingPoint, int, double, double> between)
    {
        var (estimate, ends) = (double.NaN, new List<double>());
        (double Size, Interval Ratio)? before = null;
        for (var segment = 0; segment + 1 < points.Count; segment++)
        {
            var (left, right) = (points[segment], points[segment + 1]);
            for (var step = 0; step <= StepsPerSegment; step++)
            {
                var size = left.Size * Math.Pow((double)right.Size / left.Size, (double)step / StepsPerSegment);
                var ratio = Ratio(left, right, size, between).At(level);
                if (before is { } previous)
                {
                    double? Passing(Func<Interval, double> part) => Zero(previous.Size, part(previous.Ratio), size, part(ratio));
                    estimate = double.IsNaN(estimate) ? Passing(value => value.Estimate) ?? estimate : estimate;
                    ends.AddRange(new[] { Passing(value => value.Lower), Passing(value => value.Upper) }.OfType<double>());
                }

                before = (size, ratio);
            }
        }

        return new Interval(estimate, ends.DefaultIfEmpty(double.NaN).Min(), ends.DefaultIfEmpty(double.NaN).Max(), level);
    }

    // Within one step a ratio is as good as straight over the logarithm of the size.
    private static double? Zero(double size, double value, double laterSize, double later)
        => size == laterSize || !(value * later <= 0) ? null
            : value == later ? size
            : size * Math.Pow(laterSize / size, value / (value - later));

    private static SampleMean Ratio(CrossingPoint left, CrossingPoint right, double size,
        Func<CrossingPoint, CrossingPoint, int, double, double> between)
    {
        var values = new double[left.LogRatios.Length];
        for (var sitting = 0; sitting < values.Length; sitting++)
        {
            values[sitting] = between(left, right, sitting, size);
        }

        return SampleMean.Of(values);
    }

    private static double AlongLogarithms(CrossingPoint left, CrossingPoint right, int sitting, double size)
    {
        var share = Math.Log(size / left.Size) / Math.Log((double)right.Size / left.Size);
        return ((1 - share) * left.LogRatios[sitting]) + (share * right.LogRatios[sitting]);
    }

    private static double AlongTimes(CrossingPoint left, CrossingPoint right, int sitting, double size)
    {
        var share = (size - left.Size) / ((double)right.Size - left.Size);
        var own = ((1 - share) * left.OwnTime(sitting)) + (share * right.OwnTime(sitting));
        return Math.Log(own / (((1 - share) * left.OtherTimes[sitting]) + (share * right.OtherTimes[sitting])));
    }
}
