namespace Tachyscope.Measuring;

/// <summary>Holds what one measured loop works on. Fields, because the loop takes their addresses.</summary>
internal sealed class Chamber<TInput, TResult>(TInput input, Func<TInput, TResult> operation)
{
    /// <summary>The input; each call loads it from an address that depends on the last result.</summary>
    public TInput Input = input;

    /// <summary>Where the last result goes, so that no call can be left out.</summary>
    public TResult? Result;

    /// <summary>Always 0, which the compiler cannot know: it is read volatile on every call.</summary>
    public long OpaqueZero;

    /// <summary>The operation, for calls through the delegate.</summary>
    public Func<TInput, TResult> Operation = operation;
}
