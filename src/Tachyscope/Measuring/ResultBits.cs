using System.Diagnostics.CodeAnalysis;
using System.Reflection.Emit;
using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>Makes a number of a result that is not a number; it cannot be known before the result is.</summary>
internal delegate long ResultReading<TResult>(ref TResult result);

/// <summary>Turns a result into a number that cannot be known before the result is, where the loop itself is not emitted.</summary>
internal static class ResultBits
{
    /// <summary>How to read a result that is not a number; null for one that is, which <see cref="Of{T}"/> reads in place.</summary>
    public static ResultReading<TResult>? Reading<TResult>() => Kept<TResult>.Reading;

    // The analyzer for net8.0 does not see the guard.
    [UnconditionalSuppressMessage("AOT", "IL3050", Justification = "Guarded by IsDynamicCodeSupported.")]
    private static ResultReading<TResult>? Make<TResult>()
    {
        if (Dependences.IsNumber(typeof(TResult)))
        {
            return null;
        }

        if (!RuntimeFeature.IsDynamicCodeSupported)
        {
            return typeof(TResult).IsValueType ? Bytes : Contents;
        }

        var method = new DynamicMethod(
            "ResultBits", typeof(long), [typeof(TResult).MakeByRefType()], typeof(ResultBits).Module, skipVisibility: true);
        var il = method.GetILGenerator();
        void LoadValue()
        {
            il.Emit(OpCodes.Ldarg_0);
            il.Emit(OpCodes.Ldobj, typeof(TResult));
        }

        new DependenceWriter(il).Write(typeof(TResult), LoadValue, () => il.Emit(OpCodes.Ldarg_0));
        il.Emit(OpCodes.Ret);
        return method.CreateDelegate<ResultReading<TResult>>();
    }

    /// <summary>A number that depends on a result.</summary>
    /// <param name="result">The result.</param>
    /// <param name="reading">How to read it; null for a number.</param>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static long Of<T>(ref T result, ResultReading<T>? reading)
    {
        if (reading is not null)
        {
            return reading(ref result);
        }

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

    // Compiled ahead of time nothing tells the fields: every byte, since a byte is always part of one store.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static long Bytes<TResult>(ref TResult result)
    {
        var bits = 0;
        for (var offset = 0; offset < Unsafe.SizeOf<TResult>(); offset++)
        {
            bits ^= Unsafe.Add(ref Unsafe.As<TResult, byte>(ref result), offset);
        }

        return bits;
    }

    private static long Contents<TResult>(ref TResult result) => ContentBits.Of(result);

    private static class Kept<TResult>
    {
        public static readonly ResultReading<TResult>? Reading = Make<TResult>();
    }
}
