using System.Diagnostics;
using System.Runtime.CompilerServices;
using System.Runtime.ExceptionServices;

namespace Tachyscope.Measuring;

/// <summary>Runs a loop on several threads at once, each as many calls; released together, timed to the last one's end.</summary>
#pragma warning disable CA1001 // Lives as long as the worker process.
internal sealed class ThreadedLoop : IOwnClock
#pragma warning restore CA1001
{
    private const int CallsRehearsed = 40;

    private static readonly IReadOnlyList<int> s_processors = Affinity.CoreByCore();

    private readonly SemaphoreSlim[] _wake;
    private readonly long[] _ends;
    private readonly AutoResetEvent _done = new(false);
    private MeasuredLoop[] _loops;
    private ExceptionDispatchInfo? _failure;
    private long _calls;
    private int _ready;
    private int _running;
    private int _released;

    public ThreadedLoop(int threads)
    {
        _loops = [];
        _ends = new long[threads];
        _wake = [.. Enumerable.Range(0, threads).Select(_ => new SemaphoreSlim(0))];
        for (var thread = 0; thread < threads; thread++)
        {
            var own = thread;
            new Thread(() => Serve(own)) { IsBackground = true, Name = $"Tachyscope {own}" }.Start();
        }

        // So that the runtime optimises what wakes and joins threads while operations are warmed, not while they are read.
        var idle = Around([.. Enumerable.Repeat<MeasuredLoop>(static _ => { }, threads)]);
        for (var call = 0; call < CallsRehearsed; call++)
        {
            idle(1);
        }
    }

    public long Start { get; private set; }

    public long End { get; private set; }

    /// <summary>The loop to run, one for each thread.</summary>
    public MeasuredLoop Around(MeasuredLoop[] loops) => calls =>
    {
        _loops = loops;
        Run(calls);
    };

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Run(long calls)
    {
        _calls = calls;
        _failure = null;
        _ready = 0;
        _released = 0;
        _running = _wake.Length;
        foreach (var wake in _wake)
        {
            wake.Release();
        }

        while (Volatile.Read(ref _ready) < _wake.Length)
        {
            Thread.Yield();
        }

        Start = Stopwatch.GetTimestamp();
        Volatile.Write(ref _released, 1);
        _done.WaitOne();
        End = _ends.Max();
        _failure?.Throw();
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Serve(int thread)
    {
        // Each to a core of its own as far as there are enough, then to a processor: left to itself, the system lets two of them share
        // one for many readings.
        if (s_processors.Count > 0)
        {
            Affinity.TryPin(s_processors[thread % s_processors.Count]);
        }

        while (true)
        {
            _wake[thread].Wait();
            Interlocked.Increment(ref _ready);
            while (Volatile.Read(ref _released) == 0)
            {
                Thread.Yield();
            }

            try
            {
                _loops[thread](_calls);
            }
#pragma warning disable CA1031 // Thrown again where the batch was asked for.
            catch (Exception exception)
#pragma warning restore CA1031
            {
                _failure = ExceptionDispatchInfo.Capture(exception);
            }

            _ends[thread] = Stopwatch.GetTimestamp();
            if (Interlocked.Decrement(ref _running) == 0)
            {
                _done.Set();
            }
        }
    }
}
