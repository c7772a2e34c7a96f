using System.Numerics;
using Tachyscope;

/// <summary>The same sum over whole numbers, floats and doubles: one study for each, shown side by side.</summary>
internal static class TideSums
{
    private const int Levels = 4_096;

    public static Study Study<T>()
        where T : struct, INumber<T>
        => Tachyscope.Study
            .OfElement<T>("sum of tide levels")
            .Inputs("levels", [Levels], count => Enumerable.Range(0, count).Select(minute => T.CreateChecked(minute % 7)).ToArray())
            .Baseline("loop", Loop)
            .Variant("four sums", FourSums)
            .Variant("vectors", Vectors)
            .PerCall(levels => Work.OfItems(levels.Length) with
            {
                Bytes = levels.Length * (double)System.Runtime.CompilerServices.Unsafe.SizeOf<T>(), Operations = levels.Length,
            });

    private static T Loop<T>(T[] levels)
        where T : struct, INumber<T>
    {
        var sum = T.Zero;
        foreach (var level in levels)
        {
            sum += level;
        }

        return sum;
    }

    /// <summary>Four additions that do not wait for each other.</summary>
    private static T FourSums<T>(T[] levels)
        where T : struct, INumber<T>
    {
        var (a, b, c, d) = (T.Zero, T.Zero, T.Zero, T.Zero);
        for (var i = 0; i + 4 <= levels.Length; i += 4)
        {
            a += levels[i];
            b += levels[i + 1];
            c += levels[i + 2];
            d += levels[i + 3];
        }

        return a + b + c + d;
    }

    private static T Vectors<T>(T[] levels)
        where T : struct, INumber<T>
    {
        var sum = Vector<T>.Zero;
        for (var i = 0; i + Vector<T>.Count <= levels.Length; i += Vector<T>.Count)
        {
            sum += new Vector<T>(levels, i);
        }

        return Vector.Sum(sum);
    }
}
