using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Tachyscope.Measuring;

/// <summary>Pushes everything else out of the caches up to some size, by reading memory of its own instead.</summary>
/// <remarks>
/// Caches do not strictly drop what was used longest ago, so that more is read than they hold: four times a small one, which still fits
/// into the next, and less of a large one, of which the next is memory.
/// </remarks>
internal static unsafe class CacheEmptier
{
    /// <summary>Up to this a cache is small, such as a first one; emptying it takes microseconds.</summary>
    public const long Small = 256 * 1024;

    /// <summary>Up to this it is of medium size, such as a second one; emptying a larger one takes milliseconds.</summary>
    public const long Medium = 8 * 1024 * 1024;

    private const int LineBytes = 64;

    // For the life of the process, and never freed.
    private static byte* s_memory;
    private static long s_bytes;
    private static long s_read;

    /// <summary>Bytes that are read to empty a cache.</summary>
    public static long BytesToRead(long cacheBytes)
        => cacheBytes <= Small ? 4 * cacheBytes : cacheBytes <= Medium ? 3 * cacheBytes : 3 * cacheBytes / 2;

    /// <summary>Sets the memory aside, and has the system give it.</summary>
    public static void Prepare(long cacheBytes)
    {
        if (BytesToRead(cacheBytes) is var bytes && bytes > s_bytes)
        {
            s_memory = (byte*)NativeMemory.AlignedAlloc((nuint)bytes, LineBytes);
            NativeMemory.Fill(s_memory, (nuint)bytes, 1);
            s_bytes = bytes;
        }
    }

    /// <summary>Empties a cache and those below it.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Empty(long cacheBytes)
    {
        var memory = s_memory;
        var (end, sum) = (BytesToRead(cacheBytes), 0L);
        for (var at = 0L; at < end; at += LineBytes)
        {
            sum += memory[at];
        }

        Volatile.Write(ref s_read, sum);
    }
}
