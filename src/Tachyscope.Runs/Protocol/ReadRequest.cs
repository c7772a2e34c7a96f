namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Read"/>.</summary>
sealed partial record ReadRequest
{
    /// <summary>A turn whose readings are longer than this, in nanoseconds, has fewer of them.</summary>
    public const double LongReadingNanoseconds = 1e6;

    /// <summary>A reading longer than this, in nanoseconds, is the only one of its turn.</summary>
    public const double LongestRepeatedNanoseconds = 1e7;

    /// <summary>Readings in a turn of a cell whose reading is long.</summary>
    public const int ReadingsOfLongTurn = 3;

    /// <summary>Readings beside a quiet core after which a turn of short ones has enough.</summary>
    public const int QuietReadings = 3;

    /// <summary>The rounds to take, in order.</summary>
    public required IReadOnlyList<RoundOrder> Rounds { get; init; }

    /// <summary>Readings in a turn of a cell whose reading is short.</summary>
    public int ReadingsPerTurn { get; init; } = 5;

    /// <summary>Index of the metronome's cell.</summary>
    public required int Metronome { get; init; }

    /// <summary>Processors that turns may be moved to when the core they began on is shared; none by default.</summary>
    public IReadOnlyList<int>? Processors { get; init; }

    /// <summary>
    /// Largest gauge of a core that is ours alone, in thousandths; 0 when that is not known, and turns are taken as they come.
    /// </summary>
    public int QuietGauge { get; init; }

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
