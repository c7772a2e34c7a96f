using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Studies"/>.</summary>
sealed partial record StudiesReply
{
    /// <summary>The studies of the project, in the order given.</summary>
    public required IReadOnlyList<StudyDescription> Studies { get; init; }

    /// <summary>What is wrong with the project as a whole, each with its way out; empty when sound.</summary>
    public IReadOnlyList<string> Mistakes { get; init => field = value ?? []; } = [];
}
