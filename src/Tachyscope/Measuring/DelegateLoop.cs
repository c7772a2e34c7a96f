using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>
/// The measured loop through the operation's delegate: for warming, for shapes that cannot be called directly, and where nothing can be
/// emitted.
/// </summary>
internal static class DelegateLoop
{
    public static MeasuredLoop Around<TInput, TResult>(Chamber<TInput, TResult> chamber, LoopShape shape) => shape switch
    {
        { Supply: InputSupply.Each } when chamber.OnItem is not null
            => [MethodImpl(MethodImplOptions.AggressiveOptimization)] (calls) => RunOnItems(chamber, calls),
        { Supply: InputSupply.Each } => [MethodImpl(MethodImplOptions.AggressiveOptimization)] (calls) => RunEach(chamber, calls),
        { Order: CallOrder.Overlapped } => [MethodImpl(MethodImplOptions.AggressiveOptimization)] (calls) => RunOverlapped(chamber, calls),
        _ => [MethodImpl(MethodImplOptions.AggressiveOptimization)] (calls) => Run(chamber, calls),
    };

    // Optimised at once: the loop itself must not change while the operation warms up.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Run<TInput, TResult>(Chamber<TInput, TResult> chamber, long calls)
    {
        var operation = chamber.Operation;
        var reading = chamber.Reading;
        nint offset = 0;
        TResult result;
        do
        {
            result = operation(Unsafe.AddByteOffset(ref chamber.Input, offset));
            offset = (nint)(ResultBits.Of(ref result, reading) & Volatile.Read(ref chamber.OpaqueZero));
        }
        while (--calls > 0);
        chamber.Result = result;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void RunEach<TInput, TResult>(Chamber<TInput, TResult> chamber, long calls)
    {
        var operation = chamber.Operation;
        var reading = chamber.Reading;
        var (index, offset) = (chamber.Next, 0);
        TResult result;
        do
        {
            result = operation(chamber.Items[index + offset]);
            index = index + 1 == chamber.Items.Length ? 0 : index + 1;
            offset = (int)(ResultBits.Of(ref result, reading) & Volatile.Read(ref chamber.OpaqueZero));
        }
        while (--calls > 0);
        chamber.Result = result;
        chamber.EndAt(index);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void RunOnItems<TInput, TResult>(Chamber<TInput, TResult> chamber, long calls)
    {
        var operation = chamber.OnItem!;
        var reading = chamber.Reading;
        var (index, offset) = (chamber.Next, 0);
        TResult result;
        do
        {
            result = operation(index + offset);
            index = index + 1 == chamber.Items.Length ? 0 : index + 1;
            offset = (int)(ResultBits.Of(ref result, reading) & Volatile.Read(ref chamber.OpaqueZero));
        }
        while (--calls > 0);
        chamber.Result = result;
        chamber.EndAt(index);
    }

    // A call through a delegate cannot be left out, so that nothing has to hold its result.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void RunOverlapped<TInput, TResult>(Chamber<TInput, TResult> chamber, long calls)
    {
        var operation = chamber.Operation;
        do
        {
            chamber.Result = operation(chamber.Input);
        }
        while (--calls > 0);
    }
}
