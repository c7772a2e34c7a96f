using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Diagnoses;

/// <summary>What a process told of the code it made while a study was warmed in it as for measuring.</summary>
public sealed record CodeCapture
{
    /// <summary>The study, whose rows name their methods.</summary>
    public required StudyDescription Study { get; init; }

    /// <summary>The cells that were warmed, in order.</summary>
    public required IReadOnlyList<CellDescription> Cells { get; init; }

    /// <summary>Listings of all that was compiled, as the runtime writes them; empty where it has no compiler.</summary>
    public required string Listings { get; init; }

    /// <summary>The program that was compiled ahead of time; null where a runtime compiles.</summary>
    public string? Program { get; init; }

    /// <summary>What the compiler decided; empty where the worker does not tell.</summary>
    public required IReadOnlyList<InliningDecision> Inlinings { get; init; }

    /// <summary>What the process is.</summary>
    public required WorkerEnvironment Environment { get; init; }

    /// <summary>Cells that could not be called, and why.</summary>
    public required IReadOnlyList<CellError> Failures { get; init; }
}
