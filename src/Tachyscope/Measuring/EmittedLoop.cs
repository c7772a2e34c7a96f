using System.Diagnostics.CodeAnalysis;
using System.Reflection.Emit;
using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>
/// Emits the measured loop around a direct call. The next call's input depends on the last result through an opaque
/// zero, so that calls cannot overlap, be hoisted or be dropped: docs/method.md, "The measured loop".
/// </summary>
internal static class EmittedLoop
{
    /// <summary>The loop around an operation, called directly.</summary>
    public static MeasuredLoop Around<TInput, TResult>(Chamber<TInput, TResult> chamber)
        => Emit(chamber, chamber.Operation);

    /// <summary>The same loop around an operation that returns its input: what the loop itself costs.</summary>
    public static MeasuredLoop AroundIdentity<TInput, TResult>(Chamber<TInput, TResult> chamber)
        => Emit(chamber, operation: null);

    // The analyzer for net8.0 does not see the guard inside.
    [UnconditionalSuppressMessage("AOT", "IL3050", Justification = "Guarded by IsDynamicCodeSupported.")]
    private static MeasuredLoop Emit<TInput, TResult>(Chamber<TInput, TResult> chamber, Func<TInput, TResult>? operation)
    {
        if (RuntimeFeature.IsDynamicCodeSupported)
        {
            // Blind to visibility, since the user's operations are mostly private.
            var method = new DynamicMethod(
                "MeasuredLoop", typeof(void), [typeof(Chamber<TInput, TResult>), typeof(long)], typeof(EmittedLoop).Module, skipVisibility: true);
            new LoopBody<TInput, TResult>(method.GetILGenerator()).Write(operation);
            return method.CreateDelegate<MeasuredLoop>(chamber);
        }

        throw new PlatformNotSupportedException("This process was compiled ahead of time and cannot emit a loop.");
    }
}
