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
        .Agree(tolerance: 1e-9);

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
