using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Tachyscope.Bench.Studies;

/// <summary>Operations that are made to settle at one of two speeds, drawn by each process, for a cause that is known; and one that is
/// not.</summary>
internal static class Placed
{
    private const int Levels = 8_192;
    private const int LineBytes = 64;

    // An array begins 16 bytes after its object: of its vectors of 32 bytes, every other one lies in one cache line, or in two.
    private const int Aligned = 48;
    private const int Crossing = 32;

    // The compiler takes it for what it is, so that a process has one of two codes.
    private static readonly bool IsLong = Random.Shared.Next(2) == 1;
    private static readonly int Begin = Random.Shared.Next(2) == 1 ? Crossing : Aligned;

    /// <summary>Compiled in one of two ways.</summary>
    public static Study Compiled => Study.Of("placed: compiled").Input("levels", Made)
        .Baseline("steady", Everyday.SumByLoop).Variant("drawn", SumOnceOrTwice).Agree((_, _) => true);

    /// <summary>Its data lie in one of two ways.</summary>
    public static Study Data => Study.Of("placed: data").Input("levels", () => At(Begin))
        .Baseline("steady", levels => BySteps(levels)).Variant("drawn", ByVectors).Agree((_, _) => true);

    /// <summary>One speed.</summary>
    public static Study One => Study.Of("placed: one").Input("levels", Made)
        .Baseline("steady", Everyday.SumByLoop).Variant("again", SumAgain);

    /// <summary>A true difference of 2 %, in words of a line.</summary>
    public static Study TwoPercent => Study.Of("placed: two percent").Input("a line",
        () => "wind NW 5, visibility good, tide 3.1 and falling, berth 12 free; ")
        .Baseline("50 times", line => Marks(line, 50)).Variant("51 times", line => Marks(line, 51)).Agree((_, _) => true);

    private static int Marks(string line, int times)
    {
        var marks = 0;
        for (var time = 0; time < times; time++)
        {
            foreach (var sign in line)
            {
                marks += char.IsPunctuation(sign) ? 3 : sign & 1;
            }
        }

        return marks;
    }

    private static double[] Made() => [.. Enumerable.Range(0, 512).Select(level => level * 0.5)];

    private static double SumAgain(double[] levels)
    {
        var sum = 0.0;
        for (var index = 0; index < levels.Length; index++)
        {
            sum += levels[index];
        }

        return sum;
    }

    private static double SumOnceOrTwice(double[] levels)
    {
        var sum = Everyday.SumByLoop(levels);
        if (IsLong)
        {
            for (var index = 0; index < levels.Length / 4; index++)
            {
                sum += levels[index];
            }
        }

        return sum;
    }

    // Pinned, so that it stays where it was made.
    private static float[] At(int offset)
    {
        for (var attempt = 0; attempt < 4_096; attempt++)
        {
            var levels = GC.AllocateArray<float>(Levels / sizeof(float), pinned: true);
            if (((nint)Marshal.UnsafeAddrOfPinnedArrayElement(levels, 0) - 16) % LineBytes == offset)
            {
                return levels;
            }

            if (attempt % 5 == 4)
            {
                // 24 bytes, so that the next begins at another multiple of eight.
                GC.AllocateArray<byte>(0, pinned: true);
            }
        }

        throw new InvalidOperationException($"no array came to begin {offset} bytes into a cache line");
    }

    private static float BySteps(float[] levels)
    {
        var sum = 0f;
        for (var index = 0; index < levels.Length; index += 16)
        {
            sum += levels[index];
        }

        return sum;
    }

    // Nothing but loads of every other vector, two in a cycle: one that lies in two lines takes the place of two.
    private static float ByVectors(float[] levels)
    {
        var (one, two, three, four) = (Vector<int>.Zero, Vector<int>.Zero, Vector<int>.Zero, Vector<int>.Zero);
        ref var first = ref Unsafe.As<float, int>(ref MemoryMarshal.GetArrayDataReference(levels));
        var width = Vector<int>.Count;
        for (nuint index = 0; index < Levels / sizeof(int); index += 8 * (nuint)width)
        {
            one |= Vector.LoadUnsafe(ref first, index);
            two |= Vector.LoadUnsafe(ref first, index + (2 * (nuint)width));
            three |= Vector.LoadUnsafe(ref first, index + (4 * (nuint)width));
            four |= Vector.LoadUnsafe(ref first, index + (6 * (nuint)width));
        }

        return Vector.Sum(one | two | three | four);
    }
}
