using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Targets;

/// <summary>A target that is built and has its runtime, or what kept it from that.</summary>
/// <param name="Target">The target.</param>
/// <param name="Starter">Starts its workers; null when there is none to start.</param>
/// <param name="Errors">What went wrong, in the compiler's own words where it was the compiler; empty when all went well.</param>
/// <param name="IsWrongUse">Whether what was asked for does not exist, rather than could not be built.</param>
/// <param name="Log">Where the whole output of its build is; null when nothing was built.</param>
public sealed record PreparedTarget(
    Target Target, IWorkerStarter? Starter, IReadOnlyList<string> Errors, bool IsWrongUse = false, string? Log = null) : IDisposable
{
    /// <summary>Version of the C# compiler that its assembly says it was made by; null where it does not say.</summary>
    public string? Compiler { get; init; }

    /// <summary>Which code it holds.</summary>
    public CodeState Code { get; init; } = new();

    /// <summary>Whether it was built just now; false when an earlier build was still good.</summary>
    public bool IsNewlyBuilt { get; init; }

    /// <summary>Keeps its build as it is; null when there is nothing to keep.</summary>
    internal IDisposable? Lease { get; init; }

    /// <summary>Lets go of its build, which may be written and deleted from then on.</summary>
    public void Dispose() => Lease?.Dispose();
}
