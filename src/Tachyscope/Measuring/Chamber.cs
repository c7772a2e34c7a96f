using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>Holds what one measured loop works on. Fields, because the loop takes their addresses.</summary>
internal sealed class Chamber<TInput, TResult>(InputRow<TInput> row, Func<TInput, TResult> operation)
{
    /// <summary>The input; each call loads it from an address that depends on the last result.</summary>
    public TInput Input = row.Input;

    /// <summary>The inputs that calls take in turn; whole stretches.</summary>
    public TInput[] Items = row.Items;

    /// <summary>Index of the item that the next batch begins with.</summary>
    public int Next;

    /// <summary>Where the last result goes, so that no call can be left out.</summary>
    public TResult? Result;

    /// <summary>Always 0, which the compiler cannot know: it is read volatile on every call.</summary>
    public long OpaqueZero;

    /// <summary>What the loop around the identity stores into and loads again, as others do with their results.</summary>
    public long[] Slot = new long[1];

    /// <summary>The operation, for calls through the delegate.</summary>
    public Func<TInput, TResult> Operation = operation;

    /// <summary>The same on each item of the row, where it is not the same operation on all; null where it is.</summary>
    public Func<int, TResult>? OnItem;

    /// <summary>What was prepared of each item of the row; null where one does for all.</summary>
    public Array? Each;

    /// <summary>Address of the operation's code, for loops that call it there.</summary>
    public nint Code;

    /// <summary>How to read a result that is not a number.</summary>
    public ResultReading<TResult>? Reading = ResultBits.Reading<TResult>();

    /// <summary>The operation as it was given, for its target in direct calls.</summary>
    public Delegate Target = operation;

    /// <summary>What a direct call is given beside the input: settings of dials, what was prepared.</summary>
    public object?[] Extras = [];

    /// <summary>Ends a batch: the next goes on from there.</summary>
    /// <param name="index">Index of the item after the last.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void EndAt(int index) => Next = row.NextStart(index);
}
