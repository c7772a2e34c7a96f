using System.Diagnostics;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>Reads the gauge on one processor after the other, to tell how much of the time each core is ours alone.</summary>
static partial class CoreWatch
{
    private const int MostProcessors = 64;
    private static readonly TimeSpan Warming = TimeSpan.FromMilliseconds(20);

    /// <summary>Reads it on every processor that may be used, the first 64 of them.</summary>
    /// <param name="inAll">How long to read in all.</param>
    /// <returns>One entry for each; a single one for none where the system does not let a thread choose.</returns>
    public static IReadOnlyList<CoreHeard> Listen(TimeSpan inAll)
    {
        var heard = new List<CoreHeard>();
        // Held to one processor after the other, which the calling thread is not to stay.
        var thread = new Thread(() =>
        {
            var processors = Affinity.Allowed.Take(MostProcessors).Where(Affinity.TryPin).ToList();
            Read(Warming);
            heard.AddRange(processors.Count == 0
                ? [Heard(-1, inAll)]
                : processors.Select(processor => Heard(processor, inAll / processors.Count)));
        })
        {
            Name = "Tachyscope gauge",
        };
        thread.Start();
        thread.Join();
        return heard;
    }

    private static CoreHeard Heard(int processor, TimeSpan time)
    {
        if (processor >= 0)
        {
            Affinity.TryPin(processor);
        }

        var started = Stopwatch.GetTimestamp();
        var (gauges, calls) = Read(time);
        return new CoreHeard
        {
            Processor = processor, Gauges = gauges, CallGauges = calls,
            Milliseconds = Stopwatch.GetElapsedTime(started).TotalMilliseconds,
        };
    }

    private static (List<int> Gauges, List<int> Calls) Read(TimeSpan time)
    {
        var (gauges, calls) = (new List<int>(100_000), new List<int>(100_000));
        var started = Stopwatch.GetTimestamp();
        while (Stopwatch.GetElapsedTime(started) < time)
        {
            gauges.Add(Gauge.Read());
            calls.Add(CallGauge.Read());
        }

        return (gauges, calls);
    }
}
