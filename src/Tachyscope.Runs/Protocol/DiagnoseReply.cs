using Tachyscope.Runs;

namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Diagnose"/>; what was not asked for is absent.</summary>
sealed partial record DiagnoseReply
{
    /// <summary>Wall time of the first call, in nanoseconds.</summary>
    public long? FirstCallNanoseconds { get; init; }

    /// <summary>Types allocated, most frequent first.</summary>
    public IReadOnlyList<AllocatedType>? AllocatedTypes { get; init; }

    /// <summary>Versions of the operation's method, oldest first.</summary>
    public IReadOnlyList<CodeVersion>? CodeVersions { get; init; }

    /// <summary>Bytes kept in use by what was prepared.</summary>
    public double? RetainedBytes { get; init; }

    /// <summary>Counts of the processor's own counters.</summary>
    public HardwareCounts? Counters { get; init; }
}
