using System.Reflection;
using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>Tells which delegates an emitted loop can call without going through the delegate.</summary>
internal static class DirectCall
{
    public static CallPath PathOf(Delegate operation) => IsPossible(operation) ? CallPath.Direct : CallPath.Delegate;

    public static bool IsPossible(Delegate operation)
        => RuntimeFeature.IsDynamicCodeSupported
            && operation.HasSingleTarget()
            && HasToken(operation.Method)
            && TargetFits(operation);

    private static bool HasSingleTarget(this Delegate operation) => operation.GetInvocationList().Length == 1;

    // Methods made at run time (compiled expressions) have no token to call.
    private static bool HasToken(MethodInfo method)
    {
        try
        {
            return method.MetadataToken != 0 && method.DeclaringType is not null;
        }
        catch (InvalidOperationException)
        {
            return false;
        }
    }

    private static bool TargetFits(Delegate operation)
    {
        var method = operation.Method;
        return method.IsStatic
            ? operation.Target is null
            : operation.Target is not null && !method.IsVirtual && !method.DeclaringType!.IsValueType;
    }
}
