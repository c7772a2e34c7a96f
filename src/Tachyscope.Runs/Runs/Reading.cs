using System.Runtime.InteropServices;
using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>One timed batch of calls of a cell, with all its signals.</summary>
/// <remarks>
/// Written in files and on the wire as an array of numbers in the order of <see cref="ReadingColumns"/>,
/// because a run holds tens of thousands of them.
/// </remarks>
[JsonConverter(typeof(ReadingConverter))]
[StructLayout(LayoutKind.Auto)]
readonly partial record struct Reading
{
    /// <summary>Number of the round within its sitting, from 0.</summary>
    public int Round { get; init; }

    /// <summary>Place of the turn within its round, from 0; a turn's readings share it.</summary>
    public int Place { get; init; }

    /// <summary>Index of the cell among the cells of the sitting.</summary>
    public int Cell { get; init; }

    /// <summary>Calls in the batch, on each thread; links of the chain for the metronome.</summary>
    public long Calls { get; init; }

    /// <summary>Wall time of the batch, in nanoseconds.</summary>
    public long ElapsedNanoseconds { get; init; }

    /// <summary>
    /// Processor time in nanoseconds: the measuring thread's, or the process's where other threads take part; null where
    /// the system does not tell.
    /// </summary>
    public long? ProcessorNanoseconds { get; init; }

    /// <summary>Bytes allocated during the batch: by the measuring thread, or by all where other threads take part.</summary>
    public long AllocatedBytes { get; init; }

    /// <summary>Garbage collections of generation 0 or higher during the batch.</summary>
    public int CollectionsGen0 { get; init; }

    /// <summary>Garbage collections of generation 1 or higher during the batch.</summary>
    public int CollectionsGen1 { get; init; }

    /// <summary>Garbage collections of generation 2 during the batch.</summary>
    public int CollectionsGen2 { get; init; }

    /// <summary>Time the collector paused the process during the batch, in nanoseconds.</summary>
    public long PauseNanoseconds { get; init; }

    /// <summary>Methods the runtime compiled during the batch.</summary>
    public int CompiledMethods { get; init; }

    /// <summary>Times a thread found a lock taken during the batch.</summary>
    public int LockContentions { get; init; }

    /// <summary>Whether the collector was kept out of the batch; null when that was not asked for.</summary>
    public bool? IsCollectionHeld { get; init; }

    /// <summary>Wall time of one call, in nanoseconds, loop included.</summary>
    public double NanosecondsPerCall => (double)ElapsedNanoseconds / Calls;
}
