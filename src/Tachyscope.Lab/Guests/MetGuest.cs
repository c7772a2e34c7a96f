using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Guests;

/// <summary>A row of a study that lives in a guest, once that was built and asked who it is.</summary>
/// <param name="Study">Name of the study.</param>
/// <param name="Row">The row, as its guest has it measured.</param>
internal sealed record MetGuest(string Study, VariantDescription Row)
{
    /// <summary>Starts its workers; null when it cannot be measured.</summary>
    public IWorkerStarter? Starter { get; init; }

    /// <summary>What it runs on; null when it could not be asked.</summary>
    public WorkerEnvironment? Environment { get; init; }

    /// <summary>Index of its operation among the guest's own.</summary>
    public int Operation { get; init; }

    /// <summary>Index of the row its answer is compared with there; itself where it does not compare.</summary>
    public int Reference { get; init; }

    /// <summary>Whether it makes its inputs and compares its answers by itself, as a worker of ours does.</summary>
    public bool IsOurs { get; init; }

    /// <summary>Why it cannot be measured; null when it can.</summary>
    public string? Problem { get; init; }

    /// <summary>The last lines of what did not build or start.</summary>
    public IReadOnlyList<string> LastLines { get; init; } = [];
}
