using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using System.Reflection.Emit;
using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>
/// Emits the measured loop around a direct call. Chained, the next call's input depends on the last result through an
/// opaque zero, so that calls cannot overlap, be hoisted or be dropped: docs/method.md, "The measured loop".
/// </summary>
internal static class EmittedLoop
{
    private static int s_made;

    /// <summary>
    /// The loop around a call; around an operation that returns its input when there is none: what the loop itself costs.
    /// </summary>
    // The analyzer for net8.0 does not see the guard inside.
    [UnconditionalSuppressMessage("AOT", "IL3050", Justification = "Guarded by IsDynamicCodeSupported.")]
    public static MeasuredLoop Around<TInput, TResult>(Chamber<TInput, TResult> chamber, CallTarget? call, LoopShape shape)
    {
        if (RuntimeFeature.IsDynamicCodeSupported)
        {
            // Numbered, so that whoever reads the runtime's listings knows one from another.
            var name = string.Create(CultureInfo.InvariantCulture, $"MeasuredLoop{Interlocked.Increment(ref s_made)}");
            // Blind to visibility, since the user's operations are mostly private.
            var method = new DynamicMethod(
                name, typeof(void), [typeof(Chamber<TInput, TResult>), typeof(long)], typeof(EmittedLoop).Module, skipVisibility: true);
            new LoopBody<TInput, TResult>(method.GetILGenerator(), shape).Write(call);
            return method.CreateDelegate<MeasuredLoop>(chamber);
        }

        throw new PlatformNotSupportedException("This process was compiled ahead of time and cannot emit a loop.");
    }
}
