using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace Tachyscope.Reasons;

/// <summary>Over the levels of a tide: the slower variant stands first, the faster one second; what differs is in the study's
/// name.</summary>
internal static class Levels
{
    private const int Count = 512;

    public static Study Vectors => Study.Of("vectors").Input("levels", Make)
        .Baseline("slow", levels =>
        {
            var sum = 0;
            for (var i = 0; i < levels.Length; i++)
            {
                sum += levels[i];
            }

            return sum;
        })
        .Variant("fast", levels =>
        {
            var sums = Vector<int>.Zero;
            for (var i = 0; i <= levels.Length - Vector<int>.Count; i += Vector<int>.Count)
            {
                sums += new Vector<int>(levels, i);
            }

            return Vector.Sum(sums);
        });

    public static Study WiderVectors => Study.Of("wider vectors").Input("levels", Make)
        .Baseline("slow", levels =>
        {
            var sums = Vector128<int>.Zero;
            for (var i = 0; i <= levels.Length - Vector128<int>.Count; i += Vector128<int>.Count)
            {
                sums += Vector128.Create(levels, i);
            }

            return Vector128.Sum(sums);
        })
        .Variant("fast", levels =>
        {
            var sums = Vector256<int>.Zero;
            for (var i = 0; i <= levels.Length - Vector256<int>.Count; i += Vector256<int>.Count)
            {
                sums += Vector256.Create(levels, i);
            }

            return Vector256.Sum(sums);
        });

    public static Study Calls => Study.Of("calls").Input("levels", Make)
        .Baseline("slow", levels =>
        {
            var sum = 0;
            foreach (var level in levels)
            {
                sum += Apart(level);
            }

            return sum;
        })
        .Variant("fast", levels =>
        {
            var sum = 0;
            foreach (var level in levels)
            {
                sum += Within(level);
            }

            return sum;
        });

    public static Study Divisions => Study.Of("divisions").Input("levels", Make)
        .Baseline("slow", levels =>
        {
            var (sum, step) = (0, levels[0] | 8);
            foreach (var level in levels)
            {
                sum += level / step;
            }

            return sum == int.MinValue ? 1 : 0;
        })
        .Variant("fast", levels =>
        {
            var (sum, step) = (0, levels[0] & 3);
            foreach (var level in levels)
            {
                sum += level >> step;
            }

            return sum == int.MinValue ? 1 : 0;
        });

    public static Study BoundsChecks => Study.Of("bounds checks").Input("levels", Make)
        .Baseline("slow", levels =>
        {
            var sum = 0;
            for (var i = 0; i < Count; i++)
            {
                sum += levels[i] + levels[Count - 1 - i];
            }

            return sum;
        })
        .Variant("fast", levels =>
        {
            var sum = 0;
            ref var first = ref System.Runtime.InteropServices.MemoryMarshal.GetArrayDataReference(levels);
            for (var i = 0; i < Count; i++)
            {
                sum += Unsafe.Add(ref first, i) + Unsafe.Add(ref first, Count - 1 - i);
            }

            return sum;
        });

    public static Study Branches => Study.Of("branches").Input("levels", Make)
        .Baseline("slow", levels =>
        {
            var sum = 0;
            foreach (var level in levels)
            {
                if (level > 500)
                {
                    sum += Within(level);
                }
                else if ((level & 1) == 0)
                {
                    sum -= Within(level) * 3;
                }
            }

            return sum == int.MinValue ? 1 : 0;
        })
        .Variant("fast", levels =>
        {
            var sum = 0;
            foreach (var level in levels)
            {
                var above = (500 - level) >> 31;
                sum += (Within(level) & above) - (Within(level) * 3 & ~above & ((level & 1) - 1));
            }

            return sum == int.MinValue ? 1 : 0;
        });

    public static Study Folded => Study.Of("folded away").Input("level", () => 7)
        .Baseline("slow", level => ((((level * 3) ^ level) * 5) ^ (level >> 3)) == -1 ? 1 : 0)
        .Variant("fast", _ => ((((7 * 3) ^ 7) * 5) ^ (7 >> 3)) == -1 ? 1 : 0);

    public static Study Atomics => Study.Of("atomic instructions").Input("levels", Make)
        .Baseline("slow", levels =>
        {
            var sum = 0;
            foreach (var level in levels)
            {
                Interlocked.Add(ref sum, level);
            }

            return sum;
        })
        .Variant("fast", levels =>
        {
            var sum = 0;
            foreach (var level in levels)
            {
                sum += level;
            }

            return sum;
        });

    public static Study Work => Study.Of("more to do").Input("levels", Make)
        .Baseline("slow", levels =>
        {
            var sum = 0;
            foreach (var level in levels)
            {
                sum += ((((level * 7) ^ level) * 11 ^ (level * 13)) * 17 ^ level * 19) & 1;
            }

            return sum < 0 ? 1 : 0;
        })
        .Variant("fast", levels =>
        {
            var sum = 0;
            foreach (var level in levels)
            {
                sum += (level * 7) & 1;
            }

            return sum < 0 ? 1 : 0;
        });

    public static Study DeeperLoops => Study.Of("deeper loops").Input("levels", Make)
        .Baseline("slow", levels =>
        {
            var highest = 0;
            for (var i = 8; i < levels.Length; i++)
            {
                var sum = 0;
                for (var j = i - 8; j < i; j++)
                {
                    sum += levels[j];
                }

                highest = Math.Max(highest, sum);
            }

            return highest;
        })
        .Variant("fast", levels =>
        {
            var (highest, sum) = (0, 0);
            for (var i = 0; i < levels.Length - 1; i++)
            {
                sum += levels[i] - (i < 8 ? 0 : levels[i - 8]);
                highest = Math.Max(highest, i < 7 ? 0 : sum);
            }

            return highest;
        });

    public static Study SameCode => Study.Of("the same code").Input("levels", Make).Baseline("slow", levels => SumOf(levels))
        .Variant("fast", levels => SumAgain(levels));

    private static int[] Make() => [.. Enumerable.Range(0, Count).Select(index => (index * 7_919 % 997) + 1)];

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static int Apart(int level) => level * 3;

    private static int Within(int level) => level * 3;

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static int SumOf(int[] levels)
    {
        var sum = 0;
        foreach (var level in levels)
        {
            sum += level;
        }

        return sum;
    }

    [MethodImpl(MethodImplOptions.NoInlining)]
    private static int SumAgain(int[] levels)
    {
        var total = 0;
        foreach (var one in levels)
        {
            total += one;
        }

        return total;
    }
}
