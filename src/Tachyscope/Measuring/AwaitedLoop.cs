using System.Diagnostics;
using System.Runtime.CompilerServices;
using System.Runtime.ExceptionServices;

namespace Tachyscope.Measuring;

/// <summary>
/// Awaits call after call. What a call leaves for another thread goes on there, as after an await; the measuring thread
/// sleeps meanwhile, and the clock is read where the last call ends.
/// </summary>
#pragma warning disable CA1001 // Lives as long as the worker process.
internal sealed class AwaitedLoop<TInput, TAwaiter, TCall> : IOwnClock
#pragma warning restore CA1001
    where TAwaiter : ICriticalNotifyCompletion
    where TCall : struct, IAwaitedCall<TInput, TAwaiter>
{
    private readonly TCall _call;
    private readonly InputRow<TInput> _row;
    private readonly AutoResetEvent _done = new(false);
    // Made once, so that going on after an await allocates nothing of ours.
    private readonly Action _goOn;
    private TInput _input;
    private TAwaiter _awaiter = default!;
#pragma warning disable CS0649 // Stays 0, which the compiler cannot know: it is read volatile on every call.
    private long _opaqueZero;
#pragma warning restore CS0649
    private nint _offset;
    private ExceptionDispatchInfo? _failure;
    private long _left;
    private int _index;

    public AwaitedLoop(TCall call, InputRow<TInput> row)
    {
        _call = call;
        _row = row;
        _input = row.Input;
        _goOn = GoOn;
    }

    public long Start { get; private set; }

    public long End { get; private set; }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Run(long calls)
    {
        _left = calls;
        _index = _row.NextStart(_index);
        _failure = null;
        Start = Stopwatch.GetTimestamp();
        if (!Advance())
        {
            _done.WaitOne();
        }

        _failure?.Throw();
    }

    private void GoOn()
    {
        try
        {
            _offset = (nint)(_call.End(ref _awaiter) & Volatile.Read(ref _opaqueZero));
            if (--_left == 0)
            {
                End = Stopwatch.GetTimestamp();
                _done.Set();
                return;
            }
        }
#pragma warning disable CA1031 // Thrown again where the batch was asked for.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            Fail(exception);
            _done.Set();
            return;
        }

        if (Advance())
        {
            _done.Set();
        }
    }

    /// <summary>Calls on until one is not over at once (false) or all are (true).</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool Advance()
    {
        var offset = _offset;
        try
        {
            do
            {
                // As in the loop without awaiting, the next input depends on the last result.
                var input = _row.Items.Length == 0 ? Unsafe.AddByteOffset(ref _input, offset) : NextItem((int)offset);
                var awaiter = _call.Begin(input);
                if (!_call.IsOver(ref awaiter))
                {
                    _awaiter = awaiter;
                    awaiter.UnsafeOnCompleted(_goOn);
                    return false;
                }

                offset = (nint)(_call.End(ref awaiter) & Volatile.Read(ref _opaqueZero));
            }
            while (--_left > 0);
        }
#pragma warning disable CA1031 // Thrown again where the batch was asked for.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            Fail(exception);
            return true;
        }

        End = Stopwatch.GetTimestamp();
        return true;
    }

    private TInput NextItem(int offset)
    {
        var item = _row.Items[_index + offset];
        _index = _index + 1 == _row.Items.Length ? 0 : _index + 1;
        return item;
    }

    private void Fail(Exception exception)
    {
        _failure = ExceptionDispatchInfo.Capture(exception);
        End = Stopwatch.GetTimestamp();
    }
}
