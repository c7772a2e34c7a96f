using System.Collections.Concurrent;
using Tachyscope.Measuring;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>
/// Looks from the tool for a core that is nobody else's before a guest is read there, and whether it still is when it was read: what
/// our own workers do by themselves, and few languages could.
/// </summary>
/// <remarks>On a thread of its own, which is held to the processor in question; the guest waits meanwhile.</remarks>
internal sealed class OutsideGauge
{
    private const int FirstLooks = 400;
    private const int MostKept = 4_096;

    private static readonly Lazy<OutsideGauge> s_shared = new(() => new OutsideGauge());

    private readonly BlockingCollection<(Action Look, TaskCompletionSource Done)> _asked = [];
    private readonly QuietSeeker _seeker = new();
    private readonly int[] _gauges = new int[MostKept];
    private int _count;

    private OutsideGauge()
    {
        new Thread(() =>
        {
            foreach (var (look, done) in _asked.GetConsumingEnumerable())
            {
                look();
                done.SetResult();
            }
        }) { IsBackground = true, Name = "gauge" }.Start();
    }

    /// <summary>The one there is: whoever reads a guest reads no other meanwhile.</summary>
    public static OutsideGauge Shared => s_shared.Value;

    /// <summary>What it reads on a quiet core, in thousandths, and whether that is known as sharply as it can be.</summary>
    public (int Low, bool IsSharp) Low { get; private set; }

    /// <summary>Learns what a quiet core reads, unless it knows.</summary>
    public Task LearnAsync() => Low.IsSharp ? Task.CompletedTask : DoAsync(() =>
    {
        for (var look = 0; look < FirstLooks; look++)
        {
            Read();
        }

        Low = TurnGauge.LowOf(_gauges.Take(Math.Min(_count, MostKept)));
    });

    /// <summary>Looks for a quiet core.</summary>
    /// <param name="processors">Processors that are alike and may be used.</param>
    /// <param name="first">The one to begin with.</param>
    /// <returns>The one to take, and what it reads there.</returns>
    public async Task<(int Processor, int Gauge)> SeekAsync(IReadOnlyList<int> processors, int first)
    {
        var found = (first, 0);
        await DoAsync(() =>
        {
            _seeker.Begin(processors, (int)(TurnGauge.QuietReach * Low.Low));
            if (_seeker.MoveTo(first))
            {
                _seeker.Seek();
                found = (_seeker.Processor, Read());
            }
        });
        return found;
    }

    /// <summary>What it reads on the processor it was last on, once a guest was read there for so long.</summary>
    public async Task<int> AfterAsync(double nanoseconds)
    {
        var gauge = 0;
        await DoAsync(() =>
        {
            _seeker.Earn(nanoseconds);
            gauge = Read();
        });
        return gauge;
    }

    private int Read()
    {
        var gauge = Gauge.Read();
        _gauges[_count++ % MostKept] = gauge;
        return gauge;
    }

    private Task DoAsync(Action look)
    {
        var done = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        _asked.Add((look, done));
        return done.Task;
    }
}
