namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Read"/>.</summary>
public sealed record ReadRequest
{
    /// <summary>A reading longer than this, in nanoseconds, is the only one of its turn.</summary>
    public const double LongReadingNanoseconds = 1e6;

    /// <summary>The rounds to take, in order.</summary>
    public required IReadOnlyList<RoundOrder> Rounds { get; init; }

    /// <summary>Readings in a turn of a cell whose reading is short.</summary>
    public int ReadingsPerTurn { get; init; } = 3;

    /// <summary>Index of the metronome's cell.</summary>
    public required int Metronome { get; init; }
}
