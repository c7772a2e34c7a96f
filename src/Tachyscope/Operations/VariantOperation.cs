using System.Reflection;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Operations;

/// <summary>One row of a study: how it answers, and the loops that measure it.</summary>
internal abstract class VariantOperation<TInput, TResult>
{
    public required VariantDescription Description { get; init; }

    /// <summary>The assemblies whose code it runs.</summary>
    public abstract IEnumerable<Assembly> Assemblies { get; }

    /// <summary>The method that is measured, as it was handed over; null for a guest's.</summary>
    public abstract MethodInfo? Method { get; }

    /// <summary>Whether its answer is compared; what only prepares has none.</summary>
    public virtual bool HasAnswer => true;

    /// <summary>Whether it can work on a row of inputs; what prepares from one input cannot use it on another.</summary>
    public virtual bool TakesEachInput => true;

    /// <summary>Calls it once on an input.</summary>
    public abstract TResult Answer(TInput input);

    /// <summary>The loops around it.</summary>
    public abstract LoopPair Loops(InputRow<TInput> row, LoopShape shape);

    /// <summary>The same loops around an operation that returns its input: what they cost by themselves.</summary>
    public abstract LoopPair IdentityLoops(InputRow<TInput> row, LoopShape shape);

    /// <summary>Prepares what it uses and returns it, for what that keeps in memory to be told; null when it prepares nothing.</summary>
    public virtual object? Prepare(TInput input) => null;

    /// <summary>Another row that treats its answers as this one does, where that is not the usual way; null where it is.</summary>
    public virtual VariantOperation<TInput, TResult>? Another(VariantDescription row, Func<TInput, TResult> operation) => null;

    /// <summary>The same row on several threads.</summary>
    public abstract VariantOperation<TInput, TResult> With(VariantDescription row);
}
