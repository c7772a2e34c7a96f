using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Read"/>.</summary>
sealed partial record ReadReply
{
    /// <summary>The readings, in the order they were taken.</summary>
    public required IReadOnlyList<Reading> Readings { get; init; }

    /// <summary>What the gauge read beside the readings, turn by turn.</summary>
    public IReadOnlyList<TurnGauge> Gauges { get; init => field = value ?? []; } = [];

    /// <summary>Time spent looking for a quiet core, in milliseconds.</summary>
    public double SoughtMilliseconds { get; init; }

    /// <summary>Cells that threw; they take no further turn.</summary>
    public IReadOnlyList<CellError> Failures { get; init => field = value ?? []; } = [];

    /// <summary>Whether every round could be held to the processor asked for, or to another of those alike.</summary>
    public bool IsPinned { get; init; }

    /// <summary>Readings with the stages marked, of cells that mark any.</summary>
    public IReadOnlyList<StageReading> StageReadings { get; init => field = value ?? []; } = [];
}
