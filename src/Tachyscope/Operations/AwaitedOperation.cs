using System.Reflection;
using System.Runtime.CompilerServices;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Operations;

/// <summary>An operation that is over when what it returned was awaited.</summary>
internal sealed class AwaitedOperation<TInput, TResult, TAwaiter, TCall> : VariantOperation<TInput, TResult>
    where TAwaiter : ICriticalNotifyCompletion
    where TCall : struct, IAwaitedCall<TInput, TAwaiter>
{
    public required Func<TInput, TResult> Answering { get; init; }

    public required TCall Call { get; init; }

    public required Delegate Given { get; init; }

    public override IEnumerable<Assembly> Assemblies => [Given.Method.Module.Assembly];

    public override MethodInfo? Method => Given.Method;

    public override TResult Answer(TInput input) => Answering(input);

    public override VariantOperation<TInput, TResult> With(VariantDescription row)
        => new AwaitedOperation<TInput, TResult, TAwaiter, TCall> { Description = row, Answering = Answering, Call = Call, Given = Given };

    public override LoopPair Loops(InputRow<TInput> row, LoopShape shape)
    {
        var loop = new AwaitedLoop<TInput, TAwaiter, TCall>(Call, row);
        return new(loop.Run, null, loop);
    }

    // A value task that is over at once: what awaiting leaves when there is nothing to wait for.
    public override LoopPair IdentityLoops(InputRow<TInput> row, LoopShape shape)
    {
        var over = new ValueTaskCall<TInput, TInput>(static input => new ValueTask<TInput>(input));
        var loop = new AwaitedLoop<TInput, ValueTaskAwaiter<TInput>, ValueTaskCall<TInput, TInput>>(over, row);
        return new(loop.Run, null, loop);
    }
}
