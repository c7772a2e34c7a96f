using System.Text.Json.Serialization;
using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Warm"/>.</summary>
sealed partial record WarmReply
{
    /// <summary>With what is meant where nothing is said.</summary>
    /// <param name="copies"><see cref="Copies"/>.</param>
    [JsonConstructor]
    public WarmReply(int copies = 1) => Copies = copies;

    /// <summary>How long warming took, in milliseconds.</summary>
    public required double ElapsedMilliseconds { get; init; }

    /// <summary>What was found of each cell, in the order asked.</summary>
    public required IReadOnlyList<WarmUp> Cells { get; init; }

    /// <summary>What was called, stretch by stretch, where the worker leaves it to the tool to say when it is warm; empty
    /// otherwise.</summary>
    public IReadOnlyList<WarmSlice> Slices { get; init => field = value ?? []; } = [];

    /// <summary>What the gauge read meanwhile, where the worker leaves it to the tool to say what a quiet core is; empty
    /// otherwise.</summary>
    public IReadOnlyList<int> Gauges { get; init => field = value ?? []; } = [];

    /// <summary>Cells that threw; they take no readings.</summary>
    public IReadOnlyList<CellError> Failures { get; init => field = value ?? []; } = [];

    /// <summary>Copies of the study's code that were warmed: one where a call takes so long that more would take all the time.</summary>
    public int Copies { get; init; }

    /// <summary>
    /// Low quantile of the gauge during warming, in thousandths: what it reads when the core is ours alone, if it ever was; 0 when it
    /// was not read.
    /// </summary>
    public int LowGauge { get; init; }

    /// <summary>
    /// Whether the lowest gauges lie as close together as those of a core that is ours alone do; those of a shared one scatter.
    /// </summary>
    public bool IsLowGaugeSharp { get; init; }

    /// <summary>
    /// Memory in use, as a share of what the process may use before the collector gets anxious; null where the runtime does not tell.
    /// </summary>
    public double? MemoryLoadShare { get; init; }

    /// <summary>What marking a stage costs; null when no cell marks any.</summary>
    public StageCost? StageCost { get; init; }
}
