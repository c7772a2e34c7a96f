using System.Collections.Concurrent;
using System.Diagnostics.Tracing;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>Listens to the runtime's own samples of what is allocated: one about every hundred thousand bytes.</summary>
internal sealed class AllocationSamples : RuntimeEar
{
    private const string Tick = "GCAllocationTick";
    private const EventKeywords Collector = (EventKeywords)0x1;
    private const int MostTypes = 12;

    // Listening allocates a little by itself.
    private const double LeastShare = 0.01;

    private readonly ConcurrentDictionary<string, int> _types = new(StringComparer.Ordinal);
    private int _count;

    protected override EventKeywords First => Collector;

    public int Count => Volatile.Read(ref _count);

    public IReadOnlyList<AllocatedType> Found()
        => [.. _types.Where(type => type.Value >= LeastShare * Count).OrderByDescending(type => type.Value)
            .ThenBy(type => type.Key, StringComparer.Ordinal).Take(MostTypes)
            .Select(type => new AllocatedType { Type = type.Key, Samples = type.Value })];

    protected override void OnEventWritten(EventWrittenEventArgs eventData)
    {
        if (Is(eventData, Tick) && Text(eventData, "TypeName") is { Length: > 0 } type)
        {
            _types.AddOrUpdate(type, 1, static (_, count) => count + 1);
            Interlocked.Increment(ref _count);
        }
    }
}
