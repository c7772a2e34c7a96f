using System.Text.Json;
using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Check"/>.</summary>
sealed partial record CheckReply
{
    /// <summary>Why the cell must not be timed; null when its answer agrees.</summary>
    public CellFailureKind? Failure { get; init; }

    /// <summary>The reason in a sentence; null when the answer agrees.</summary>
    public string? Reason { get; init; }

    /// <summary>What was noticed beside the answer.</summary>
    public IReadOnlyList<Observed> Observed { get; init => field = value ?? []; } = [];

    /// <summary>The answer; null when it was not asked for, or there is none.</summary>
    public AnswerDigest? Answer { get; init; }

    /// <summary>
    /// SHA-256, in hexadecimal, of what the input holds, to tell it from that of another run; null when the answer was not asked for or
    /// the variant is not the reference, and where the input is another each time it is made, or does not say what it holds.
    /// </summary>
    public string? InputHash { get; init; }

    /// <summary>A guest's answer as JSON, for the study's own worker to compare; null from a worker that compared it itself.</summary>
    public JsonElement? Value { get; init; }
}
