using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Tachyscope.Measuring;

/// <summary>Makes a number, inside the timing, of results that cannot be kept or are not there yet.</summary>
internal static class Reductions
{
    /// <summary>Where a span lies, how long it is, and what its last item begins with.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static unsafe long Of<TItem>(ReadOnlySpan<TItem> span)
    {
        ref var first = ref MemoryMarshal.GetReference(span);
        var place = (nint)Unsafe.AsPointer(ref first) + span.Length;
        return span.IsEmpty ? place : place ^ Volatile.Read(ref Unsafe.As<TItem, byte>(ref Unsafe.Add(ref first, span.Length - 1)));
    }

    /// <summary>Where a span lies, how long it is, and what its last item begins with.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static long Of<TItem>(Span<TItem> span) => Of((ReadOnlySpan<TItem>)span);

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
