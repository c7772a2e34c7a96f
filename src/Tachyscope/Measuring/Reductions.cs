using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Tachyscope.Measuring;

/// <summary>Makes a number, inside the timing, of results that cannot be kept or are not there yet.</summary>
internal static class Reductions
{
    /// <summary>Where a span lies and how long it is.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static unsafe long Of<TItem>(ReadOnlySpan<TItem> span)
        => (nint)Unsafe.AsPointer(ref MemoryMarshal.GetReference(span)) + span.Length;

    /// <summary>Where a span lies and how long it is.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static unsafe long Of<TItem>(Span<TItem> span)
        => (nint)Unsafe.AsPointer(ref MemoryMarshal.GetReference(span)) + span.Length;

    /// <summary>Goes through a sequence to its end; what comes back depends on every element.</summary>
    public static long Enumerate<TItem>(IEnumerable<TItem> sequence)
    {
        var reading = ResultBits.Reading<TItem>();
        var bits = 0L;
        foreach (var item in sequence)
        {
            var kept = item;
            bits += ResultBits.Of(ref kept, reading);
        }

        return bits;
    }
}
