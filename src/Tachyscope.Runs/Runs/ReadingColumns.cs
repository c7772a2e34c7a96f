namespace Tachyscope.Runs;

/// <summary>The order of the numbers of a reading in files and on the wire.</summary>
static partial class ReadingColumns
{
    /// <summary>Column names, in order.</summary>
    public static IReadOnlyList<string> Names { get; } =
    [
        "round", "place", "cell", "calls", "elapsedNanoseconds", "processorNanoseconds", "allocatedBytes",
        "collectionsGen0", "collectionsGen1", "collectionsGen2", "pauseNanoseconds", "compiledMethods", "lockContentions",
            "collectionsHeld",
    ];
}
