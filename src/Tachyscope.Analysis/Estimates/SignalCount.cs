using System.Runtime.InteropServices;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>How many readings of a cell carry which signal, and what they allocated.</summary>
public sealed class SignalCount
{
    // Wall time beyond processor time, as a share, that marks an interruption: docs/method.md, "Signals".
    private const double InterruptedShare = 0.02;
    private const double WaitingShare = 0.5;
    private const double CompilingShare = 0.9;

    // In the few readings of a long operation, something of the runtime's own is compiled now and then.
    internal const int EnoughReadings = 20;

    // How many readings had so many bytes a call: nearly always one number, or two.
    private readonly Dictionary<double, int> _bytesPerCall = [];
    private long _elapsedNanoseconds;
    private long _waitedNanoseconds;
    private long _processorNanoseconds;
    private bool _isProcessorUnknown;
    private long _collections0;
    private long _collections1;
    private long _collections2;

    /// <summary>Readings taken.</summary>
    public int Readings { get; private set; }

    /// <summary>Whether its readings are of a program started for each, which waits for its files and its parts as it likes.</summary>
    public bool IsOfPrograms { get; init; }

    /// <summary>Whether it never leaves the processor of its own accord, so that all it waited for was a processor.</summary>
    public bool KeepsProcessor { get; init; }

    /// <summary>Readings during which the thread was kept from the processor.</summary>
    public int Interrupted { get; private set; }

    /// <summary>Readings with a garbage collection inside.</summary>
    public int WithCollection { get; private set; }

    /// <summary>Readings during which methods were compiled.</summary>
    public int WithCompilation { get; private set; }

    /// <summary>Whether the operation makes code at every call, which is then compiled.</summary>
    public bool IsCompiling => IsOfCompiling(Readings, WithCompilation);

    /// <summary>Calls timed.</summary>
    public long Calls { get; private set; }

    /// <summary>Bytes allocated in all.</summary>
    public long AllocatedBytes { get; private set; }

    /// <summary>
    /// Bytes allocated per call in the middle reading of all: exact where calls allocate alike, since a few readings in which the
    /// runtime allocated something of its own do not move it. NaN without readings.
    /// </summary>
    public double AllocatedBytesPerCall
    {
        get
        {
            var before = 0;
            foreach (var (bytes, readings) in _bytesPerCall.OrderBy(seen => seen.Key))
            {
                before += readings;
                if (before * 2 >= Readings)
                {
                    return bytes;
                }
            }

            return double.NaN;
        }
    }

    /// <summary>Mean processor time per call, in nanoseconds, loop included; NaN where the system does not tell.</summary>
    public double ProcessorNanosecondsPerCall => Calls == 0 || _isProcessorUnknown ? double.NaN : (double)_processorNanoseconds / Calls;

    /// <summary>Mean time per call, in nanoseconds, loop included, without what a processor was waited for where that is known.</summary>
    public double ElapsedNanosecondsPerCall => Calls == 0 ? double.NaN : (double)_elapsedNanoseconds / Calls;

    /// <summary>Collections of each generation alone, from 0 to 2.</summary>
    public IReadOnlyList<long> Collections => [_collections0 - _collections1, _collections1 - _collections2, _collections2];

    /// <summary>Time the collector paused the process, in nanoseconds.</summary>
    public long PauseNanoseconds { get; private set; }

    /// <summary>Times a thread found a lock taken.</summary>
    public long LockContentions { get; private set; }

    /// <summary>Readings the collector was to be kept out of, and was.</summary>
    public int Held { get; private set; }

    /// <summary>Readings the collector was to be kept out of, and came into.</summary>
    public int NotHeld { get; private set; }

    /// <summary>Share of the wall time off the processor; 0 where the system does not tell, NaN without readings.</summary>
    public double OffProcessorShare => (double)_waitedNanoseconds / _elapsedNanoseconds;

    /// <summary>Whether the operation spends most of its time off the processor, asleep or waiting for something.</summary>
    public bool IsMostlyWaiting => Interrupted * 2 > Readings && _waitedNanoseconds > WaitingShare * _elapsedNanoseconds;

    /// <summary>Whether other work took the processor during a reading.</summary>
    public static bool IsInterrupted(in Reading reading)
        => reading.ProcessorNanoseconds is { } processor
            && reading.ElapsedNanoseconds - processor > InterruptedShare * reading.ElapsedNanoseconds;

    /// <summary>Whether so many readings with compilation are those of an operation that makes code at every call.</summary>
    /// <param name="readings">Readings taken.</param>
    /// <param name="withCompilation">How many of them methods were compiled in.</param>
    internal static bool IsOfCompiling(int readings, int withCompilation)
        => readings >= EnoughReadings && withCompilation > CompilingShare * readings;

    /// <summary>
    /// What a reading took, in nanoseconds. A long one of what never leaves the processor of its own accord took what it had of one, and
    /// pauses of the collector, which may work on a thread of its own; what others held the processor for is theirs. Short ones are left
    /// as they are: few are interrupted, and beside them reading the processor's time takes a while itself.
    /// </summary>
    /// <param name="reading">The reading.</param>
    internal long NanosecondsOf(in Reading reading)
        => KeepsProcessor && reading.ElapsedNanoseconds > ReadRequest.LongReadingNanoseconds
            && reading.ProcessorNanoseconds is { } processor
            ? Math.Min(reading.ElapsedNanoseconds, processor + reading.PauseNanoseconds)
            : reading.ElapsedNanoseconds;

    /// <summary>Counts one reading.</summary>
    /// <param name="reading">The reading.</param>
    public void Add(in Reading reading)
    {
        Readings++;
        Interrupted += !IsOfPrograms && IsInterrupted(reading) ? 1 : 0;
        WithCollection += reading.CollectionsGen0 > 0 ? 1 : 0;
        WithCompilation += reading.CompiledMethods > 0 ? 1 : 0;
        Calls += reading.Calls;
        AllocatedBytes += reading.AllocatedBytes;
        Count((double)reading.AllocatedBytes / reading.Calls, 1);
        var elapsed = NanosecondsOf(reading);
        _elapsedNanoseconds += elapsed;
        _waitedNanoseconds += elapsed - (reading.ProcessorNanoseconds ?? elapsed);
        _processorNanoseconds += reading.ProcessorNanoseconds ?? 0;
        _isProcessorUnknown |= reading.ProcessorNanoseconds is null;
        _collections0 += reading.CollectionsGen0;
        _collections1 += reading.CollectionsGen1;
        _collections2 += reading.CollectionsGen2;
        PauseNanoseconds += reading.PauseNanoseconds;
        LockContentions += reading.LockContentions;
        Held += reading.IsCollectionHeld == true ? 1 : 0;
        NotHeld += reading.IsCollectionHeld == false ? 1 : 0;
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
            foreach (var (bytes, readings) in count._bytesPerCall)
            {
                sum.Count(bytes, readings);
            }

            sum._elapsedNanoseconds += count._elapsedNanoseconds;
            sum._waitedNanoseconds += count._waitedNanoseconds;
            sum._processorNanoseconds += count._processorNanoseconds;
            sum._isProcessorUnknown |= count._isProcessorUnknown;
            sum._collections0 += count._collections0;
            sum._collections1 += count._collections1;
            sum._collections2 += count._collections2;
            sum.PauseNanoseconds += count.PauseNanoseconds;
            sum.LockContentions += count.LockContentions;
            sum.Held += count.Held;
            sum.NotHeld += count.NotHeld;
        }

        return sum;
    }

    private void Count(double bytes, int readings)
        => CollectionsMarshal.GetValueRefOrAddDefault(_bytesPerCall, bytes, out _) += readings;
}
