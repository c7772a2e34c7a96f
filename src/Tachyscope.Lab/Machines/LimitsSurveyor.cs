using System.Diagnostics;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Machines;

/// <summary>Measures what one processor can do at most: bytes read from every level of memory, arithmetic in its widest vectors.</summary>
public static class LimitsSurveyor
{
    private const long LeastMemoryBytes = 64L << 20;
    private const long MostCacheBytes = 32L << 20;
    private const long MostMemoryBytes = 512L << 20;
    private const int OperationsPerLane = 2;
    private const int Chains = 12;
    private static readonly TimeSpan EachFor = TimeSpan.FromMilliseconds(250);

    private static double s_sink;

    /// <summary>
    /// Measures for about two seconds; the best of many short readings counts, since nothing makes a processor faster than it is.
    /// </summary>
    /// <param name="caches">Caches of the processor, as the survey found them.</param>
    /// <param name="now">The time, for the record.</param>
    public static MachineLimits Take(IReadOnlyList<CacheLevel> caches, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(caches);
        var data = caches.Where(cache => cache.Holds != "Instruction").OrderBy(cache => cache.Level).ToList();
        var largest = data.Count == 0 ? 0 : data.Max(cache => cache.SizeBytes);
        var memory = Math.Clamp(2 * largest, LeastMemoryBytes, MostMemoryBytes);
        return new MachineLimits
        {
            Machine = Surveyor.Describe(),
            Measured = now,
            Memory =
            [
                // Half of a cache, since something else always lies there too.
                .. data.Select(cache => new MemoryLimit(
                    string.Create(CultureInfo.InvariantCulture, $"L{cache.Level}"), cache.SizeBytes,
                        BytesPerSecond(Math.Min(cache.SizeBytes / 2, MostCacheBytes)))),
                new MemoryLimit("memory", null, BytesPerSecond(memory)),
            ],
            OperationsPerSecond = OperationsPerSecond(),
        };
    }

    private static double BytesPerSecond(long bytes)
    {
        var values = new double[bytes / sizeof(double)];
        Array.Fill(values, 1.0);
        var repeats = (int)Math.Max(1, 200_000 / values.Length);
        return Best(() =>
        {
            for (var i = 0; i < repeats; i++)
            {
                s_sink += Sum(values);
            }
        }) * repeats * values.Length * sizeof(double);
    }

    private static double OperationsPerSecond()
    {
        const int Steps = 4_000;
        return Best(() => s_sink += Multiply(Steps)) * Steps * Chains * Vector512<double>.Count * OperationsPerLane;
    }

    /// <summary>How often per second, at best, something can be done.</summary>
    private static double Best(Action action)
    {
        var best = double.PositiveInfinity;
        var begin = Stopwatch.GetTimestamp();
        // The first half warms code, caches and clock.
        while (Stopwatch.GetElapsedTime(begin) < EachFor)
        {
            var start = Stopwatch.GetTimestamp();
            action();
            best = Math.Min(best, Stopwatch.GetElapsedTime(start).TotalSeconds);
        }

        return 1 / best;
    }

    // The runtime makes two halves of each vector where the processor has none as wide.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static double Sum(ReadOnlySpan<double> values)
    {
        var vectors = MemoryMarshal.Cast<double, Vector512<double>>(values);
        var (a, b, c, d) = (Vector512<double>.Zero, Vector512<double>.Zero, Vector512<double>.Zero, Vector512<double>.Zero);
        for (var i = 0; i + 4 <= vectors.Length; i += 4)
        {
            a += vectors[i];
            b += vectors[i + 1];
            c += vectors[i + 2];
            d += vectors[i + 3];
        }

        return Vector512.Sum(a + b + c + d);
    }

    // Twelve chains that do not wait for each other keep both multipliers of a processor busy.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static double Multiply(int steps)
    {
        var factor = Vector512.Create(s_sink == double.MaxValue ? 1.5 : 0.999999);
        var (a, b, c, d, e, f) = (factor, factor, factor, factor, factor, factor);
        var (g, h, i, j, k, l) = (factor, factor, factor, factor, factor, factor);
        for (var step = 0; step < steps; step++)
        {
            a = Vector512.FusedMultiplyAdd(a, factor, factor);
            b = Vector512.FusedMultiplyAdd(b, factor, factor);
            c = Vector512.FusedMultiplyAdd(c, factor, factor);
            d = Vector512.FusedMultiplyAdd(d, factor, factor);
            e = Vector512.FusedMultiplyAdd(e, factor, factor);
            f = Vector512.FusedMultiplyAdd(f, factor, factor);
            g = Vector512.FusedMultiplyAdd(g, factor, factor);
            h = Vector512.FusedMultiplyAdd(h, factor, factor);
            i = Vector512.FusedMultiplyAdd(i, factor, factor);
            j = Vector512.FusedMultiplyAdd(j, factor, factor);
            k = Vector512.FusedMultiplyAdd(k, factor, factor);
            l = Vector512.FusedMultiplyAdd(l, factor, factor);
        }

        return Vector512.Sum(a + b + c + d + e + f + g + h + i + j + k + l);
    }
}
