#if !NET9_0_OR_GREATER
#pragma warning disable IDE0130 // The compiler looks for it in this namespace.
namespace System.Runtime.CompilerServices;

/// <summary>Known to the compiler by its name: .NET 8 has none.</summary>
[AttributeUsage(AttributeTargets.Method)]
internal sealed class OverloadResolutionPriorityAttribute(int priority) : Attribute
{
    public int Priority { get; } = priority;
}
#endif
