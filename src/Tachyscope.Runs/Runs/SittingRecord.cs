using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>A stretch of rounds in one fresh worker process.</summary>
sealed partial record SittingRecord
{
    /// <summary>With what is meant where nothing is said.</summary>
    /// <param name="repeat"><see cref="Repeat"/>.</param>
    /// <param name="copies"><see cref="Copies"/>.</param>
    [JsonConstructor]
    public SittingRecord(int repeat = 1, int copies = 1) => (Repeat, Copies) = (repeat, copies);

    /// <summary>Number of the sitting within its study, from 1.</summary>
    public required int Number { get; init; }

    /// <summary>Repeat of the comparison it belongs to, from 1.</summary>
    public int Repeat { get; init; }

    /// <summary>Whether every variant had a worker of its own, instead of all sharing one.</summary>
    public bool IsApart { get; init; }

    /// <summary>When its workers were started, in seconds since the run began.</summary>
    public double BeganSeconds { get; init; }

    /// <summary>When its last reading was taken, in seconds since the run began.</summary>
    public double EndedSeconds { get; init; }

    /// <summary>Seed its orders of set-up and of turns were shuffled by.</summary>
    public required int Seed { get; init; }

    /// <summary>Its cells, in the order they were set up; readings name them by index.</summary>
    public required IReadOnlyList<CellDescription> Cells { get; init; }

    /// <summary>How each cell became ready.</summary>
    public required IReadOnlyList<WarmUp> WarmUps { get; init; }

    /// <summary>How long warming took, in milliseconds.</summary>
    public required double WarmUpMilliseconds { get; init; }

    /// <summary>
    /// Memory in use once it was warm, as a share of what the process may use before the collector gets anxious; null where the runtime
    /// does not tell.
    /// </summary>
    public double? MemoryLoadShare { get; init; }

    /// <summary>Whether every round was held to the processor chosen for it, or moved to another of those alike.</summary>
    public required bool IsPinned { get; init; }

    /// <summary>
    /// Gauge of a core that is ours alone, in thousandths, on each target, as far as it was known when the sitting was read; 0 where it was
    /// not, nothing in files written before there was one.
    /// </summary>
    public IReadOnlyList<int> LowGauges { get; init => field = value ?? []; } = [];

    /// <summary>The same of each guest of the run, by its index; nothing in a run without guests.</summary>
    public IReadOnlyList<int> GuestLowGauges { get; init => field = value ?? []; } = [];

    /// <summary>What the gauge read beside the readings, turn by turn; none in files written before there was one.</summary>
    public IReadOnlyList<TurnGauge> Gauges { get; init => field = value ?? []; } = [];

    /// <summary>Time spent looking for a quiet core, in milliseconds.</summary>
    public double SoughtMilliseconds { get; init; }

    /// <summary>Copies of the study's code that its rounds went through.</summary>
    public int Copies { get; init; }

    /// <summary>Why there are fewer than were asked for, in a few words; null when there are not.</summary>
    public string? CopiesProblem { get; init; }

    /// <summary>Rounds taken.</summary>
    public required int Rounds { get; init; }

    /// <summary>The readings, in the order they were taken.</summary>
    public required IReadOnlyList<Reading> Readings { get; init; }

    /// <summary>Readings with the stages marked, of cells that mark any.</summary>
    public IReadOnlyList<StageReading> StageReadings { get; init => field = value ?? []; } = [];

    /// <summary>What a mark costs in each worker some of whose cells mark stages.</summary>
    public IReadOnlyList<StageCost> StageCosts { get; init => field = value ?? []; } = [];
}
