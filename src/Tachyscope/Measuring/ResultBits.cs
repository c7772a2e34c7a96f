using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>Turns a result into a number that cannot be known before the result is.</summary>
internal static class ResultBits
{
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static long Of<T>(ref T result)
    {
        if (typeof(T) == typeof(int) || typeof(T) == typeof(uint))
        {
            return Unsafe.As<T, int>(ref result);
        }

        if (typeof(T) == typeof(long) || typeof(T) == typeof(ulong))
        {
            return Unsafe.As<T, long>(ref result);
        }

        if (typeof(T) == typeof(double))
        {
            return BitConverter.DoubleToInt64Bits(Unsafe.As<T, double>(ref result));
        }

        return typeof(T) == typeof(float)
            ? BitConverter.SingleToInt32Bits(Unsafe.As<T, float>(ref result))
            : Unsafe.As<T, byte>(ref result);
    }
}
