namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Read"/>.</summary>
public sealed record ReadRequest
{
    /// <summary>A turn whose readings are longer than this, in nanoseconds, has fewer of them.</summary>
    public const double LongReadingNanoseconds = 1e6;

    /// <summary>A reading longer than this, in nanoseconds, is the only one of its turn.</summary>
    public const double LongestRepeatedNanoseconds = 1e7;

    /// <summary>Readings in a turn of a cell whose reading is long.</summary>
    public const int ReadingsOfLongTurn = 3;

    /// <summary>The rounds to take, in order.</summary>
    public required IReadOnlyList<RoundOrder> Rounds { get; init; }

    /// <summary>Readings in a turn of a cell whose reading is short.</summary>
    public int ReadingsPerTurn { get; init; } = 5;

    /// <summary>Index of the metronome's cell.</summary>
    public required int Metronome { get; init; }

    /// <summary>Whether the collector is to be kept out of the readings where its budget allows.</summary>
    public bool IsCollectionHeld { get; init; }

    /// <summary>Readings a turn takes.</summary>
    /// <param name="readingNanoseconds">Length of one reading.</param>
    /// <param name="readingsPerTurn">Readings in a turn of a cell whose reading is short.</param>
    public static int ReadingsOf(double readingNanoseconds, int readingsPerTurn)
        => readingNanoseconds <= LongReadingNanoseconds ? readingsPerTurn
            : readingNanoseconds <= LongestRepeatedNanoseconds ? Math.Min(readingsPerTurn, ReadingsOfLongTurn)
            : 1;
}
