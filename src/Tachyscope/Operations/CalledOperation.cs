using System.Reflection;
using System.Runtime.CompilerServices;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Operations;

/// <summary>An operation that is called and is over when it returns.</summary>
/// <typeparam name="TInput">What it works on.</typeparam>
/// <typeparam name="TResult">What it answers.</typeparam>
/// <typeparam name="TMeasured">What its measured loop keeps of the answer.</typeparam>
internal sealed class CalledOperation<TInput, TResult, TMeasured> : VariantOperation<TInput, TResult>
{
    /// <summary>Its answer, for the comparison.</summary>
    public required Func<TInput, TResult> Answering { get; init; }

    /// <summary>What to call, for a loop on a stated input or a row of them.</summary>
    public required Func<InputRow<TInput>, BoundCall<TInput, TMeasured>> Bind { get; init; }

    /// <summary>The delegates the user gave.</summary>
    public required Delegate[] Given { get; init; }

    public Func<TInput, object?>? Preparing { get; init; }

    /// <summary>Makes another row that treats its answers alike.</summary>
    public Func<VariantDescription, Func<TInput, TResult>, VariantOperation<TInput, TResult>>? Alike { get; init; }

    public bool IsPreparation { get; init; }

    public bool IsBoundToInput { get; init; }

    public override IEnumerable<Assembly> Assemblies => Given.Select(given => given.Method.Module.Assembly);

    // What prepares is handed over before what uses.
    public override MethodInfo? Method => (IsPreparation ? Given[0] : Given[^1]).Method;

    public override bool HasAnswer => !IsPreparation;

    public override bool TakesEachInput => !IsBoundToInput;

    public override TResult Answer(TInput input) => Answering(input);

    public override object? Prepare(TInput input) => Preparing?.Invoke(input);

    public override VariantOperation<TInput, TResult>? Another(VariantDescription row, Func<TInput, TResult> operation)
        => Alike?.Invoke(row, operation);

    public override VariantOperation<TInput, TResult> With(VariantDescription row) => new CalledOperation<TInput, TResult, TMeasured>
    {
        Description = row,
        Answering = Answering,
        Bind = Bind,
        Given = Given,
        Preparing = Preparing,
        IsPreparation = IsPreparation,
        IsBoundToInput = IsBoundToInput,
    };

    public override LoopPair Loops(InputRow<TInput> row, LoopShape shape) => Threaded(shape, () =>
    {
        var call = Bind(row);
        var chamber = new Chamber<TInput, TMeasured>(row, call.ThroughDelegate)
        {
            Target = call.Target.Operation, Extras = call.Target.Extras, OnItem = call.OnItem, Each = call.Target.Each,
            Code = shape.IsCalled ? call.Target.Operation.Method.MethodHandle.GetFunctionPointer() : 0,
        };
        var warming = DelegateLoop.Around(chamber, shape);
        if (shape.EmptiedBytes is { } bytes)
        {
            return ColdLoop<TInput, TMeasured>.Pair(chamber, bytes, warming);
        }

        return new(warming, IsEmitted(shape) ? () => EmittedLoop.Around(chamber, call.Target, shape) : null);
    });

    public override LoopPair IdentityLoops(InputRow<TInput> row, LoopShape shape) => Threaded(shape, () =>
    {
        var warming = DelegateLoop.Around(new Chamber<TInput, TInput>(row, static value => value), shape);
        var chamber = new Chamber<TInput, TMeasured>(row, static _ => default!);
        if (shape.EmptiedBytes is { } bytes)
        {
            // What it calls has to be warm, as operations are.
            return ColdLoop<TInput, TMeasured>.Pair(chamber, bytes, DelegateLoop.Around(chamber, shape));
        }

        return new(warming, IsEmitted(shape) ? () => EmittedLoop.Around(chamber, null, shape) : null);
    });

    private static LoopPair Threaded(LoopShape shape, Func<LoopPair> make)
    {
        if (shape.Threads is not { } threads)
        {
            return make();
        }

        var crew = new ThreadedLoop(threads);
        LoopPair[] loops = [.. Enumerable.Range(0, threads).Select(_ => make())];
        return new(
            crew.Around([.. loops.Select(loop => loop.Warming)]),
            () => crew.Around([.. loops.Select(loop => loop.Build?.Invoke() ?? loop.Warming)]),
            crew);
    }

    private static bool IsEmitted(LoopShape shape) => RuntimeFeature.IsDynamicCodeSupported && shape.Path == CallPath.Direct;
}
