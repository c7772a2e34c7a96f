namespace Tachyscope.Analysis.Speeds;

/// <summary>What goes along with the speeds that the same code settles at.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Values">
/// What it was at each speed, the fastest first, the most frequent before others: 0 or 1 for inlining, bytes of code, or bytes from the
/// beginning of a cache line.
/// </param>
/// <param name="Placements">Placements it was heard of in.</param>
/// <param name="Alike">In how many of them the speed is the one that its value goes along with.</param>
public sealed record SpeedCause(SpeedCauseKind Kind, IReadOnlyList<IReadOnlyList<int>> Values, int Placements, int Alike)
{
    /// <summary>The method it is of, as <c>Type:Method</c>, where the operation calls it; null for the operation itself.</summary>
    public string? Of { get; init; }
}
