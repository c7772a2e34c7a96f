using System.Runtime.CompilerServices;
using System.Text.Json;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Operations;

/// <summary>Makes a study's rows of what the user hands over, one method for each shape of operation.</summary>
internal static class Rows
{
    public static VariantOperation<TInput, TResult> Plain<TInput, TResult>(VariantDescription row, Func<TInput, TResult> operation)
        => Of<TInput, TResult, TResult>(row, operation, operation, new(operation, new(operation, 0, [])),
            Carriers.ResultOf(typeof(TResult)));

    /// <summary>A guest, once for each of its builds.</summary>
    public static IEnumerable<VariantOperation<TInput, TResult>> OfGuest<TInput, TResult>(
        string name, Guest guest, Func<TInput, JsonElement> send, Func<JsonElement, TResult> read)
        => from build in guest.Builds.DefaultIfEmpty("")
           from isCold in guest.ColdFiles is null ? [false] : (bool[])[false, true]
           select new GuestOperation<TInput, TResult>
           {
               Description = new VariantDescription
               {
                   Name = $"{name}{(guest.Builds.Count > 1 ? $", {build}" : "")}{(isCold ? ", cold files" : "")}",
                   Variant = name,
                   Guest = new GuestDescription
                   {
                       Language = guest.Language, Source = guest.Source, Build = build, Operation = guest.Operation,
                           IsWhole = guest.IsWhole,
                       IsOnTarget = guest.IsOnTarget,
                       Before = guest.Before, After = guest.After, Cold = isCold ? guest.ColdFiles : null,
                   },
               },
               Send = send,
               Read = read,
           };

    /// <summary>A sequence that may be evaluated only when it is enumerated, so it is enumerated in the timing.</summary>
    public static VariantOperation<TInput, IEnumerable<TItem>> Enumerated<TInput, TItem>(
        VariantDescription row, Func<TInput, IEnumerable<TItem>> operation)
    {
        var reduce = ((Func<IEnumerable<TItem>, long>)Reductions.Enumerate).Method;
        var call = new BoundCall<TInput, long>(input => Reductions.Enumerate(operation(input)), new(operation, 0, [], reduce));
        return new CalledOperation<TInput, IEnumerable<TItem>, long>
        {
            Description = row with { Loop = Shape(operation, ResultKind.Enumerated) },
            Answering = operation,
            Given = [operation],
            Bind = _ => call,
            Alike = Enumerated,
        };
    }

    public static VariantOperation<TInput, NoAnswer> Void<TInput>(VariantDescription row, Action<TInput> operation)
        => Of<TInput, NoAnswer, int>(
            row,
            input =>
            {
                operation(input);
                return default;
            },
            operation,
            new(
                input =>
                {
                    operation(input);
                    return 0;
                },
                new(operation, 0, [])),
            ResultKind.None);

    public static VariantOperation<TInput, TItem[]> Span<TInput, TItem>(VariantDescription row, SpanOperation<TInput, TItem> operation)
        => Of<TInput, TItem[], long>(
            row,
            input => operation(input).ToArray(),
            operation,
            new(input => Reductions.Of(operation(input)), new(operation, 0, [], ((SpanReduction<TItem>)Reductions.Of).Method)),
            ResultKind.Span);

    public static VariantOperation<TInput, TItem[]> Span<TInput, TItem>(VariantDescription row,
        ReadOnlySpanOperation<TInput, TItem> operation)
        => Of<TInput, TItem[], long>(
            row,
            input => operation(input).ToArray(),
            operation,
            new(input => Reductions.Of(operation(input)), new(operation, 0, [], ((ReadOnlySpanReduction<TItem>)Reductions.Of).Method)),
            ResultKind.Span);

    public static IEnumerable<VariantOperation<TInput, TResult>> AtSettings<TInput, TResult>(
        string name, Dial dial, Func<TInput, int, TResult> operation)
        => dial.Settings.Select(setting => Of<TInput, TResult, TResult>(
            At(name, [new(dial.Name, setting)]),
            input => operation(input, setting),
            operation,
            new(input => operation(input, setting), new(operation, 0, [setting])),
            Carriers.ResultOf(typeof(TResult))));

    public static IEnumerable<VariantOperation<TInput, TResult>> AtSettings<TInput, TResult>(
        string name, Dial first, Dial second, Func<TInput, int, int, TResult> operation)
        => from one in first.Settings
           from other in second.Settings
           select Of<TInput, TResult, TResult>(
               At(name, [new(first.Name, one), new(second.Name, other)]),
               input => operation(input, one, other),
               operation,
               new(input => operation(input, one, other), new(operation, 0, [one, other])),
               Carriers.ResultOf(typeof(TResult)));

    /// <summary>Two rows: what is prepared from an input, and each use of it.</summary>
    public static IEnumerable<VariantOperation<TInput, TResult>> Prepared<TInput, TPrepared, TResult>(
        string name, bool isBaseline, Func<TInput, TPrepared> prepare, Func<TPrepared, TInput, TResult> use)
        => [
            Preparation<TInput, TPrepared, TResult>(name, isBaseline, prepare, prepare, new(prepare, new(prepare, 0, [])), use),
            Use(name, isBaseline, prepare, prepare, use, isBoundToInput: true),
        ];

    /// <summary>Two rows: what is prepared whatever the input, and each use of it.</summary>
    public static IEnumerable<VariantOperation<TInput, TResult>> Prepared<TInput, TPrepared, TResult>(
        string name, bool isBaseline, Func<TPrepared> prepare, Func<TPrepared, TInput, TResult> use)
    {
        TPrepared FromAny(TInput input) => prepare();
        Func<TInput, TPrepared> any = FromAny;
        return
        [
            Preparation<TInput, TPrepared, TResult>(name, isBaseline, prepare, any, new(any, new(any, 0, [])), use),
            Use(name, isBaseline, prepare, any, use, isBoundToInput: false),
        ];
    }

    public static VariantOperation<TInput, NoAnswer> Awaited<TInput>(VariantDescription row, Func<TInput, Task> operation)
        => Awaited<TInput, NoAnswer, TaskAwaiter, TaskCall<TInput>>(
            row,
            input =>
            {
                operation(input).GetAwaiter().GetResult();
                return default;
            },
            new TaskCall<TInput>(operation),
            operation);

    public static VariantOperation<TInput, NoAnswer> Awaited<TInput>(VariantDescription row, Func<TInput, ValueTask> operation)
        => Awaited<TInput, NoAnswer, ValueTaskAwaiter, ValueTaskCall<TInput>>(
            row,
            input =>
            {
                operation(input).AsTask().GetAwaiter().GetResult();
                return default;
            },
            new ValueTaskCall<TInput>(operation),
            operation);

    public static VariantOperation<TInput, TResult> Awaited<TInput, TResult>(VariantDescription row, Func<TInput, Task<TResult>> operation)
        => Awaited<TInput, TResult, TaskAwaiter<TResult>, TaskCall<TInput, TResult>>(
            row, input => operation(input).GetAwaiter().GetResult(), new TaskCall<TInput, TResult>(operation), operation);

    public static VariantOperation<TInput, TResult> Awaited<TInput, TResult>(VariantDescription row,
        Func<TInput, ValueTask<TResult>> operation)
        => Awaited<TInput, TResult, ValueTaskAwaiter<TResult>, ValueTaskCall<TInput, TResult>>(
            row, input => operation(input).AsTask().GetAwaiter().GetResult(), new ValueTaskCall<TInput, TResult>(operation), operation);

    public static VariantDescription Named(string name, bool isBaseline) => new() { Name = name, Variant = name, IsBaseline = isBaseline };

    private static CalledOperation<TInput, TResult, TMeasured> Of<TInput, TResult, TMeasured>(
        VariantDescription row, Func<TInput, TResult> answer, Delegate given, BoundCall<TInput, TMeasured> call, ResultKind result)
        => new()
        {
            Description = row with { Loop = Shape(given, result) },
            Answering = answer,
            Given = [given],
            Bind = _ => call,
        };

    private static CalledOperation<TInput, TResult, TPrepared> Preparation<TInput, TPrepared, TResult>(
        string name, bool isBaseline, Delegate given, Func<TInput, TPrepared> prepare, BoundCall<TInput, TPrepared> call, Delegate use)
        => new()
        {
            Description = Named(name, isBaseline) with
            {
                Name = $"{name}: prepare",
                Part = VariantPart.Prepare,
                Loop = Shape(call.Target.Operation, Carriers.ResultOf(typeof(TPrepared))),
            },
            Answering = input =>
            {
                prepare(input);
                return default!;
            },
            Given = [given, use],
            Bind = _ => call,
            Preparing = input => prepare(input),
            IsPreparation = true,
        };

    private static CalledOperation<TInput, TResult, TResult> Use<TInput, TPrepared, TResult>(
        string name, bool isBaseline, Delegate given, Func<TInput, TPrepared> prepare, Func<TPrepared, TInput, TResult> use,
            bool isBoundToInput)
        => new()
        {
            Description = Named(name, isBaseline) with
            {
                Name = $"{name}: use",
                Part = VariantPart.Use,
                Loop = Shape(use, Carriers.ResultOf(typeof(TResult))),
            },
            Answering = input => use(prepare(input), input),
            Given = [given, use],
            Bind = row => isBoundToInput && row.Items.Length > 0
                ? OfEach(row, prepare, use)
                : OfOne(prepare(row.Input), use),
            IsBoundToInput = isBoundToInput,
        };

    private static BoundCall<TInput, TResult> OfOne<TInput, TPrepared, TResult>(TPrepared prepared, Func<TPrepared, TInput, TResult> use)
        => new(item => use(prepared, item), new(use, 1, [prepared]));

    // Each kind of input once, however often it comes in the row.
    private static BoundCall<TInput, TResult> OfEach<TInput, TPrepared, TResult>(
        InputRow<TInput> row, Func<TInput, TPrepared> prepare, Func<TPrepared, TInput, TResult> use)
    {
        TPrepared[] ofKinds = [.. row.Kinds.Select(prepare)];
        TPrepared[] each = [.. row.KindOf.Select(kind => ofKinds[kind])];
        return new(
            item => use(each[0], item), new(use, 1, [each[0]], Each: each), index => use(each[index], row.Items[index]));
    }

    private static AwaitedOperation<TInput, TResult, TAwaiter, TCall> Awaited<TInput, TResult, TAwaiter, TCall>(
        VariantDescription row, Func<TInput, TResult> answer, TCall call, Delegate given)
        where TAwaiter : ICriticalNotifyCompletion
        where TCall : struct, IAwaitedCall<TInput, TAwaiter>
        => new()
        {
            Description = row with { Loop = new LoopShape { Path = CallPath.Awaited, Result = Carriers.ResultOf(typeof(TResult)) } },
            Answering = answer,
            Call = call,
            Given = given,
        };

    private static LoopShape Shape(Delegate operation, ResultKind result) => new()
    {
        Path = DirectCall.PathOf(operation),
        Result = result,
        // Nothing comes back that the next call could wait for.
        Order = result == ResultKind.None ? CallOrder.Overlapped : CallOrder.Chained,
    };

    private static VariantDescription At(string name, DialSetting[] settings) => Named(name, isBaseline: false) with
    {
        Name = $"{name}, {string.Join(", ", settings.Select(setting => $"{setting.Dial} {setting.Value}"))}",
        Settings = settings,
    };

    private delegate long SpanReduction<TItem>(Span<TItem> span);

    private delegate long ReadOnlySpanReduction<TItem>(ReadOnlySpan<TItem> span);
}
