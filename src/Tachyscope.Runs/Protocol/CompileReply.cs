using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Compile"/>.</summary>
sealed partial record CompileReply
{
    /// <summary>What became of each cell of the open sitting, in their order; null where nothing was heard.</summary>
    public required IReadOnlyList<CellCode?> Codes { get; init; }
}
