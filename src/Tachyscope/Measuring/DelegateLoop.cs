using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>The measured loop through the operation's delegate: for warming, for shapes that cannot be called directly, and where nothing can be emitted.</summary>
internal static class DelegateLoop
{
    public static MeasuredLoop Around<TInput, TResult>(Chamber<TInput, TResult> chamber) => calls => Run(chamber, calls);

    // Optimised at once: the loop itself must not change while the operation warms up.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Run<TInput, TResult>(Chamber<TInput, TResult> chamber, long calls)
    {
        var operation = chamber.Operation;
        nint offset = 0;
        TResult result;
        do
        {
            result = operation(Unsafe.AddByteOffset(ref chamber.Input, offset));
            offset = (nint)(ResultBits.Of(ref result) & Volatile.Read(ref chamber.OpaqueZero));
        }
        while (--calls > 0);
        chamber.Result = result;
    }
}
