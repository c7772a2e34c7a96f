using System.Runtime.InteropServices;

namespace Tachyscope.Bench.Studies;

/// <summary>
/// Memory that is found without a walk through page tables, where the system has such: what is left is what caches and memory take.
/// </summary>
internal static class LargePages
{
    private const int PageBytes = 1 << 21;
    private const int AdviseLarge = 14;
    private const int Collapse = 25;

    /// <summary>An array of at least so many elements from an index on, all of them 0; never moved.</summary>
    /// <param name="count">Elements needed.</param>
    /// <returns>The array, and the index from which on it lies on large pages; on usual ones where the system gives no others.</returns>
    public static (int[] Elements, int First) Make(int count)
    {
        var pages = ((count * (long)sizeof(int)) + PageBytes - 1) / PageBytes;
        var elements = GC.AllocateArray<int>((int)((pages + 1) * PageBytes / sizeof(int)), pinned: true);
        var address = Marshal.UnsafeAddrOfPinnedArrayElement(elements, 0);
        var aligned = (address + PageBytes - 1) / PageBytes * PageBytes;
        if (OperatingSystem.IsLinux())
        {
            // Told for what is not yet there, and done at once for what is, where the kernel knows how; what it answers is of no matter.
            _ = madvise(aligned, (nuint)(pages * PageBytes), AdviseLarge);
            Array.Clear(elements);
            _ = madvise(aligned, (nuint)(pages * PageBytes), Collapse);
        }

        return (elements, (int)((aligned - address) / sizeof(int)));
    }

    [DllImport("libc", ExactSpelling = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int madvise(nint address, nuint length, int advice);
}
