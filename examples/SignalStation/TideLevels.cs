using System.Numerics;
using Tachyscope;

/// <summary>Readings of the tide gauge smoothed by a moving mean: summed anew, as a running sum, with vectors.</summary>
internal static class TideLevels
{
    private const int Window = 16;

    public static Study Study => Tachyscope.Study
        .Of("smooth tide levels")
        .Inputs("levels", [240, 8_640], count => Levels(count, seed: 3))
        .Baseline("every window anew", SmoothAnew)
        .Variant("running sum", SmoothByRunningSum)
        .Variant("vectors", SmoothByVectors)
        .Variant("running sum, anew", Dial.Over("every", 32, 256, 2_048), SmoothInStretches)
        .Agree(tolerance: 1e-9)
        .PerCall(levels => Work.OfItems(levels.Length));

    private static double[] SmoothAnew(double[] levels)
    {
        var smooth = new double[levels.Length - Window + 1];
        for (var start = 0; start < smooth.Length; start++)
        {
            var sum = 0.0;
            for (var offset = 0; offset < Window; offset++)
            {
                sum += levels[start + offset];
            }

            smooth[start] = sum / Window;
        }

        return smooth;
    }

    private static double[] SmoothByRunningSum(double[] levels)
    {
        var smooth = new double[levels.Length - Window + 1];
        var sum = 0.0;
        for (var i = 0; i < levels.Length; i++)
        {
            sum += levels[i];
            if (i >= Window)
            {
                sum -= levels[i - Window];
            }

            if (i >= Window - 1)
            {
                smooth[i - Window + 1] = sum / Window;
            }
        }

        return smooth;
    }

    /// <summary>A running sum that is begun anew from time to time, so that rounding does not pile up.</summary>
    private static double[] SmoothInStretches(double[] levels, int every)
    {
        var smooth = new double[levels.Length - Window + 1];
        for (var first = 0; first < smooth.Length; first += every)
        {
            var sum = 0.0;
            for (var offset = 0; offset < Window - 1; offset++)
            {
                sum += levels[first + offset];
            }

            var end = Math.Min(first + every, smooth.Length);
            for (var start = first; start < end; start++)
            {
                sum += levels[start + Window - 1];
                smooth[start] = sum / Window;
                sum -= levels[start];
            }
        }

        return smooth;
    }

    /// <summary>Several neighbouring windows at once, one in each lane.</summary>
    private static double[] SmoothByVectors(double[] levels)
    {
        var smooth = new double[levels.Length - Window + 1];
        var lanes = Vector<double>.Count;
        var start = 0;
        for (; start <= smooth.Length - lanes; start += lanes)
        {
            var sum = Vector<double>.Zero;
            for (var offset = 0; offset < Window; offset++)
            {
                sum += new Vector<double>(levels, start + offset);
            }

            (sum / new Vector<double>(Window)).CopyTo(smooth, start);
        }

        for (; start < smooth.Length; start++)
        {
            smooth[start] = levels.AsSpan(start, Window).ToArray().Average();
        }

        return smooth;
    }

    private static double[] Levels(int count, int seed)
    {
        var random = new Random(seed);
        return [.. Enumerable.Range(0, count).Select(minute => (2.1 * Math.Sin(minute / 118.6)) + (0.2 * random.NextDouble()))];
    }
}
