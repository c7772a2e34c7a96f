using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>A number that cannot be known before the contents of an object are.</summary>
internal static unsafe class ContentBits
{
    private const long Sentinel = 0x0123_4567_89AB_CDEF;

    private static readonly object s_two = (0L, Sentinel);

    // The sizes of objects are read as the runtime keeps them; where it keeps them otherwise, what they begin with has to do.
    private static readonly bool s_areSizesKnown = AreSizesKnown();

    /// <summary>
    /// What an object begins and ends with: the first and last eight bytes, of a text or an array its length and its last item.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static long Of(object? value)
    {
        if (value is null)
        {
            return 0;
        }

        ref var data = ref Unsafe.As<RawObject>(value).Data;
        var bits = Volatile.Read(ref Unsafe.As<byte, int>(ref data));
        if (s_areSizesKnown)
        {
            // By halves: a load across two stores that have just been made waits for both to leave the processor.
            bits += Volatile.Read(ref Unsafe.As<byte, int>(ref Unsafe.Add(ref data, 4)));
            ref var end = ref Unsafe.Add(ref data, SizeOf(ref data) - 8);
            bits += Unsafe.ReadUnaligned<int>(ref end) + Unsafe.ReadUnaligned<int>(ref Unsafe.Add(ref end, 4));
        }

        return bits;
    }

    // The word before an object's data is its type's table: flags with the size of an item in the lower half, then the size of an
    // object without items, its header and that word included. So in CoreCLR and in what is compiled ahead of time.
    private static nint SizeOf(ref byte data)
    {
        var table = (uint*)Unsafe.Add(ref Unsafe.As<byte, nint>(ref data), -1);
        var size = (nint)table[1] - (2 * sizeof(nint));
        return (int)table[0] < 0 ? size + ((nint)(ushort)table[0] * Unsafe.As<byte, int>(ref data)) : size;
    }

    private static bool AreSizesKnown()
        => sizeof(nint) == 8
            && SizeOf(ref Unsafe.As<RawObject>(new object()).Data) == 8
            && SizeOf(ref Unsafe.As<RawObject>(new byte[100]).Data) == 108
            && SizeOf(ref Unsafe.As<RawObject>(new string('~', 5)).Data) == 16
            && SizeOf(ref Unsafe.As<RawObject>(s_two).Data) == 16
            && Unsafe.ReadUnaligned<long>(ref Unsafe.Add(ref Unsafe.As<RawObject>(s_two).Data, 8)) == Sentinel;

    private sealed class RawObject
    {
        public byte Data;
    }
}
