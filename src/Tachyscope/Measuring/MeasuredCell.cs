using System.Reflection;
using System.Runtime.CompilerServices;
using Tachyscope.Runs;

namespace Tachyscope.Measuring;

/// <summary>One cell set up in a worker: the loop that warms it and the loop that measures it.</summary>
internal sealed class MeasuredCell
{
    // Threads that are woken together take some microseconds to come, and more of them than processors, milliseconds.
    private const double ThreadedReadingFactor = 10;
    private const double CrowdedReadingFactor = 100;

    private readonly Func<MeasuredLoop> _build;
    private MeasuredLoop? _measured;

    public MeasuredCell(CellDescription description, MeasuredLoop warming, Func<MeasuredLoop>? build = null)
    {
        Description = description;
        Loop = warming;
        _build = build ?? (() => warming);
    }

    public CellDescription Description { get; }

    /// <summary>Tells where its input begins within its page, once it was warmed; null where it has none to tell of.</summary>
    public Func<int?>? InputOffset { get; init; }

    /// <summary>The method that is measured; null for what is no operation.</summary>
    public MethodInfo? Method { get; init; }

    /// <summary>Its place among the cells of its sitting.</summary>
    public int Index { get; init; }

    /// <summary>Calls the operation; through its delegate until <see cref="ChangeLoop"/> was called.</summary>
    public MeasuredLoop Loop { get; private set; }

    /// <summary>Makes ready for a batch, outside the timing; null when nothing is to be done.</summary>
    public Action? Refill { get; init; }

    /// <summary>Most calls a batch can hold.</summary>
    public long MostCalls { get; init; } = long.MaxValue;

    /// <summary>Calls after which every kind of a mix has come as often as it is to come; 1 without a mix.</summary>
    public int Stretch { get; init; } = 1;

    /// <summary>So many calls or a few more, in whole stretches where that does not make the batch longer than stated.</summary>
    /// <param name="calls">Calls wanted.</param>
    /// <param name="nanosecondsPerCall">What one takes.</param>
    /// <param name="mostNanoseconds">What a single stretch may take.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public long InStretches(long calls, double nanosecondsPerCall, double mostNanoseconds)
        => Stretch * nanosecondsPerCall <= mostNanoseconds ? (calls + Stretch - 1) / Stretch * Stretch : calls;

    /// <summary>Where the clock is read, when not on the measuring thread.</summary>
    public IOwnClock? Clock { get; init; }

    /// <summary>What empties caches before each of its calls, once it is warm; null where nothing does.</summary>
    public IColdLoop? Cold { get; init; }

    /// <summary>Whether other threads take part, so that the whole process's time and bytes count.</summary>
    public bool IsProcessWide => (Clock is not null && Cold is null) || OtherThreadsShare is not null;

    /// <summary>How much of what its calls take is spent by other threads, as in a parallel loop; null where next to nothing is.</summary>
    public double? OtherThreadsShare { get; set; }

    /// <summary>How much longer its readings are than usual.</summary>
    public double ReadingFactor => Description.Loop.Threads is not { } threads ? 1
        : threads <= Environment.ProcessorCount ? ThreadedReadingFactor : CrowdedReadingFactor;

    /// <summary>How it became ready; null until it was warmed.</summary>
    public WarmUp? WarmUp { get; set; }

    /// <summary>Whether it marks stages.</summary>
    public bool MarksStages { get; set; }

    /// <summary>Whether it takes no more part: it threw, or it belongs to a copy that there is not.</summary>
    public bool HasFailed { get; set; }

    /// <summary>A cell that takes no part.</summary>
    public static MeasuredCell Absent(CellDescription cell, int index) => new(cell, static _ => { }) { Index = index, HasFailed = true };

    public static MeasuredCell OfMetronome(CellDescription cell, int index)
        => new(cell, Metronome.Loop) { Index = index };

    /// <summary>
    /// Writes the measured loop, which is compiled when it is first called. Before warming, so that what writing takes of the
    /// runtime is warmed with the rest and not compiled in the quiet that warming waits for.
    /// </summary>
    public void WriteLoop() => _measured ??= _build();

    /// <summary>Writes it once more, for whoever wants to see it compiled.</summary>
    public MeasuredLoop WriteAnother() => _build();

    /// <summary>
    /// Changes to the measured loop. Done once the operation is warm, so that what the compiler inlines into it has its profile.
    /// </summary>
    public void ChangeLoop()
    {
        WriteLoop();
        Loop = _measured!;
    }
}
