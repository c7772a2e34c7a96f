using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>How many readings of a cell carry which signal, and what they allocated.</summary>
public sealed class SignalCount
{
    // Wall time beyond processor time, as a share, that marks an interruption: docs/method.md, "Signals".
    private const double InterruptedShare = 0.02;
    private const double WaitingShare = 0.5;

    private long _elapsedNanoseconds;
    private long _waitedNanoseconds;

    /// <summary>Readings taken.</summary>
    public int Readings { get; private set; }

    /// <summary>Readings during which the thread was kept from the processor.</summary>
    public int Interrupted { get; private set; }

    /// <summary>Readings with a garbage collection inside.</summary>
    public int WithCollection { get; private set; }

    /// <summary>Readings during which methods were compiled.</summary>
    public int WithCompilation { get; private set; }

    /// <summary>Calls timed.</summary>
    public long Calls { get; private set; }

    /// <summary>Bytes allocated in all.</summary>
    public long AllocatedBytes { get; private set; }

    /// <summary>Mean bytes allocated per call; NaN without calls.</summary>
    public double AllocatedBytesPerCall => Calls == 0 ? double.NaN : (double)AllocatedBytes / Calls;

    /// <summary>Whether the operation spends most of its time off the processor, asleep or waiting for something.</summary>
    public bool IsMostlyWaiting => Interrupted * 2 > Readings && _waitedNanoseconds > WaitingShare * _elapsedNanoseconds;

    /// <summary>Counts one reading.</summary>
    /// <param name="reading">The reading.</param>
    public void Add(Reading reading)
    {
        Readings++;
        Interrupted += reading.ProcessorNanoseconds is { } processor
            && reading.ElapsedNanoseconds - processor > InterruptedShare * reading.ElapsedNanoseconds ? 1 : 0;
        WithCollection += reading.CollectionsGen0 > 0 ? 1 : 0;
        WithCompilation += reading.CompiledMethods > 0 ? 1 : 0;
        Calls += reading.Calls;
        AllocatedBytes += reading.AllocatedBytes;
        _elapsedNanoseconds += reading.ElapsedNanoseconds;
        _waitedNanoseconds += reading.ElapsedNanoseconds - (reading.ProcessorNanoseconds ?? reading.ElapsedNanoseconds);
    }

    /// <summary>The counts of several sittings together.</summary>
    /// <param name="counts">The counts.</param>
    public static SignalCount Sum(IEnumerable<SignalCount> counts)
    {
        ArgumentNullException.ThrowIfNull(counts);
        var sum = new SignalCount();
        foreach (var count in counts)
        {
            sum.Readings += count.Readings;
            sum.Interrupted += count.Interrupted;
            sum.WithCollection += count.WithCollection;
            sum.WithCompilation += count.WithCompilation;
            sum.Calls += count.Calls;
            sum.AllocatedBytes += count.AllocatedBytes;
            sum._elapsedNanoseconds += count._elapsedNanoseconds;
            sum._waitedNanoseconds += count._waitedNanoseconds;
        }

        return sum;
    }
}
