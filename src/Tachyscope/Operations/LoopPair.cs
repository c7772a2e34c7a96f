using Tachyscope.Measuring;

namespace Tachyscope.Operations;

/// <summary>The loop that warms an operation and how to build the one that measures it.</summary>
/// <param name="Warming">The loop through the delegate.</param>
/// <param name="Build">Builds the measured loop; null when it is the same.</param>
/// <param name="Clock">Where the clock is read, when not on the measuring thread.</param>
internal sealed record LoopPair(MeasuredLoop Warming, Func<MeasuredLoop>? Build = null, IOwnClock? Clock = null)
{
    /// <summary>What empties caches before each call; null where nothing does.</summary>
    public IColdLoop? Cold { get; init; }
}
