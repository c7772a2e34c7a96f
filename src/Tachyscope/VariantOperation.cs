using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope;

internal sealed class VariantOperation<TInput, TResult>(string name, Func<TInput, TResult> operation, bool isBaseline)
{
    public Func<TInput, TResult> Operation { get; } = operation;

    public VariantDescription Description { get; } = new()
    {
        Name = name,
        IsBaseline = isBaseline,
        Path = DirectCall.IsPossible(operation) ? CallPath.Direct : CallPath.Delegate,
    };
}
