using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Inspect"/>.</summary>
sealed partial record InspectReply
{
    /// <summary>What is wrong with the inputs, each with its way out; empty when sound.</summary>
    public required IReadOnlyList<string> Mistakes { get; init; }

    /// <summary>What one call on each input gets done; empty when the study does not declare it.</summary>
    public IReadOnlyList<WorkPerCall> Work { get; init => field = value ?? []; } = [];
}
