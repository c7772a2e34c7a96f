#pragma warning disable CA2012 // Its awaiter is all that is ever taken of a value task here.
using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

internal readonly struct TaskCall<TInput>(Func<TInput, Task> operation) : IAwaitedCall<TInput, TaskAwaiter>
{
    public TaskAwaiter Begin(TInput input) => operation(input).GetAwaiter();

    public bool IsOver(ref TaskAwaiter awaiter) => awaiter.IsCompleted;

    public long End(ref TaskAwaiter awaiter)
    {
        awaiter.GetResult();
        return 0;
    }
}

internal readonly struct TaskCall<TInput, TResult>(Func<TInput, Task<TResult>> operation) : IAwaitedCall<TInput, TaskAwaiter<TResult>>
{
    private readonly ResultReading<TResult>? _reading = ResultBits.Reading<TResult>();

    public TaskAwaiter<TResult> Begin(TInput input) => operation(input).GetAwaiter();

    public bool IsOver(ref TaskAwaiter<TResult> awaiter) => awaiter.IsCompleted;

    public long End(ref TaskAwaiter<TResult> awaiter)
    {
        var result = awaiter.GetResult();
        return ResultBits.Of(ref result, _reading);
    }
}

internal readonly struct ValueTaskCall<TInput>(Func<TInput, ValueTask> operation) : IAwaitedCall<TInput, ValueTaskAwaiter>
{
    public ValueTaskAwaiter Begin(TInput input) => operation(input).GetAwaiter();

    public bool IsOver(ref ValueTaskAwaiter awaiter) => awaiter.IsCompleted;

    public long End(ref ValueTaskAwaiter awaiter)
    {
        awaiter.GetResult();
        return 0;
    }
}

internal readonly struct ValueTaskCall<TInput, TResult>(Func<TInput, ValueTask<TResult>> operation)
    : IAwaitedCall<TInput, ValueTaskAwaiter<TResult>>
{
    private readonly ResultReading<TResult>? _reading = ResultBits.Reading<TResult>();

    public ValueTaskAwaiter<TResult> Begin(TInput input) => operation(input).GetAwaiter();

    public bool IsOver(ref ValueTaskAwaiter<TResult> awaiter) => awaiter.IsCompleted;

    public long End(ref ValueTaskAwaiter<TResult> awaiter)
    {
        var result = awaiter.GetResult();
        return ResultBits.Of(ref result, _reading);
    }
}
