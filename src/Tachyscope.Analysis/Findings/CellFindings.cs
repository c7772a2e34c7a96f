using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Speeds;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>What was found of one row of a study on one input.</summary>
public sealed record CellFindings
{
    /// <summary>The row.</summary>
    public required VariantDescription Variant { get; init; }

    /// <summary>Index of the row in its study.</summary>
    public int Row { get; init; }

    /// <summary>Its place in the ranking of its input; null when it is not ranked.</summary>
    public Place? Place { get; init; }

    /// <summary>Why it has no figures; null when it has.</summary>
    public CellFailure? Failure { get; init; }

    /// <summary>
    /// Time of a typical call, in nanoseconds, without the loop, at the speed that times are stated at; a bound where it is no more than
    /// the loop may leave.
    /// </summary>
    public required Interval NanosecondsPerCall { get; init; }

    /// <summary>
    /// The speeds it settles at, the fastest first, where it has several from process to process or from copy to copy; empty where it has
    /// one, or too few placements were read to tell. <see cref="NanosecondsPerCall"/> is their mean, at which it may never run.
    /// </summary>
    public IReadOnlyList<Speed> Speeds { get; init; } = [];

    /// <summary>What goes along with its speeds; null where it has one, or nothing was found.</summary>
    public SpeedCause? SpeedCause { get; init; }

    /// <summary>
    /// Whether the operation is part of its measured loop, instead of being called by it: in all processes, in none, or in some (null), or
    /// not known (null).
    /// </summary>
    public bool? IsInlined { get; init; }

    /// <summary>Placements looked at for that: processes, and the copies of the code in each; 0 where they could not be told
    /// apart.</summary>
    public int Placements { get; init; }

    /// <summary>The same with collections paid: the pauses of all readings spread over their calls; null where there were none.</summary>
    public Interval? PaidNanosecondsPerCall { get; init; }

    /// <summary>
    /// How much of the spread belongs to rounds, copies and processes: of its contrast, or of its time where there is none.
    /// </summary>
    public Spread Spread { get; init; } = new();

    /// <summary>
    /// Whether nothing tells what it takes beside a core that is ours alone, although something tells it of others in its study.
    /// </summary>
    public bool IsOfSharedCore { get; init; }

    /// <summary>
    /// How many times as long it takes while somebody else uses the core; null where the core was never shared for long enough to tell.
    /// </summary>
    public Interval? SharedTimeRatio { get; init; }

    /// <summary>Time per call where calls may run side by side; null when that was not read.</summary>
    public Interval? OverlappedNanosecondsPerCall { get; init; }

    /// <summary>Time per call where it stays a call, whatever the compiler would do; null when that was not read.</summary>
    public Interval? CalledNanosecondsPerCall { get; init; }

    /// <summary>Time per call with the caches emptied before it, the smallest cache first; empty when that was not read.</summary>
    public IReadOnlyList<ColdFindings> Cold { get; init; } = [];

    /// <summary>The loop it was measured in.</summary>
    public LoopShape Loop { get; init; } = new();

    /// <summary>Processor time per call, in nanoseconds; of all threads where others take part.</summary>
    public double ProcessorNanosecondsPerCall { get; init; } = double.NaN;

    /// <summary>Bytes allocated per call, after warm-up, in the middle one of all readings; NaN without readings.</summary>
    public double AllocatedBytesPerCall { get; init; }

    /// <summary>Most memory that a program started for each call held at once, in bytes; null for what is no program of its own.</summary>
    public double? PeakMemoryBytes { get; init; }

    /// <summary>Exceptions thrown per call, caught ones included.</summary>
    public double ExceptionsPerCall { get; init; }

    /// <summary>Reads and writes per call that it asked of the system; NaN where the system does not tell.</summary>
    public double ReadsAndWritesPerCall { get; init; } = double.NaN;

    /// <summary>Times per call that a thread found a lock taken.</summary>
    public double LockContentionsPerCall { get; init; }

    /// <summary>The comparison with the row it is compared with; null where there is none.</summary>
    public Contrast? Contrast { get; init; }

    /// <summary>What the signals say of its readings.</summary>
    public required SignalCount Signals { get; init; }

    /// <summary>Sittings that counted it as settled.</summary>
    public int SettledSittings { get; init; }

    /// <summary>Its way to rest; null without readings.</summary>
    public WarmUpFindings? WarmUp { get; init; }

    /// <summary>What the garbage collector did; null without readings.</summary>
    public CollectionFindings? Collections { get; init; }

    /// <summary>Its stages, in the order they are entered; empty when it marks none.</summary>
    public IReadOnlyList<StageFindings> Stages { get; init; } = [];

    /// <summary>What came of several threads; null when it was called from one.</summary>
    public ThreadFindings? Threads { get; init; }

    /// <summary>How much gets done per second; empty when the study declares no work.</summary>
    public IReadOnlyList<RateFindings> Rates { get; init; } = [];

    /// <summary>Types it allocates, by samples; empty when that was not looked at.</summary>
    public IReadOnlyList<AllocatedType> AllocatedTypes { get; init; } = [];

    /// <summary>What the processor's own counters say of a call; null when they were not read.</summary>
    public HardwareCounts? Counters { get; init; }

    /// <summary>
    /// How much of what a call takes is spent by other threads, in the middle sitting; null where next to nothing is in half of them.
    /// </summary>
    public double? OtherThreadsShare { get; init; }

    /// <summary>Bytes that what was prepared keeps in use; null when it prepares nothing.</summary>
    public double? RetainedBytes { get; init; }

    /// <summary>On a mix: the time that the kinds' own times give, by their weights, in nanoseconds; null elsewhere.</summary>
    public double? WeightedNanosecondsPerCall { get; init; }
}
