using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>One kind of awaitable operation; a structure, so that the loop around it is compiled for it.</summary>
internal interface IAwaitedCall<in TInput, TAwaiter>
    where TAwaiter : ICriticalNotifyCompletion
{
    /// <summary>Begins a call.</summary>
    TAwaiter Begin(TInput input);

    /// <summary>Whether it is over.</summary>
    bool IsOver(ref TAwaiter awaiter);

    /// <summary>Takes its result, or its exception; what comes back depends on the result.</summary>
    long End(ref TAwaiter awaiter);
}
