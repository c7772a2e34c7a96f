using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>What came of a run: its readings, or why nothing was measured.</summary>
public sealed record RunOutcome
{
    /// <summary>What was measured; null when nothing was.</summary>
    public Run? Run { get; init; }

    /// <summary>
    /// Studies that were left aside because not every target has them, one sentence for each target; empty when there are none.
    /// </summary>
    public IReadOnlyList<string> Aside { get; init; } = [];

    /// <summary>Why nothing was measured, all reasons together, each with its way out.</summary>
    public IReadOnlyList<string> Refusals { get; init; } = [];

    /// <summary>Whether the reason is that something could not be run, rather than wrong use.</summary>
    public bool CouldNotRun { get; init; }
}
