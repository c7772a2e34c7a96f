namespace Tachyscope.Runs;

/// <summary>What was found of a cell in processes of its own, apart from its readings.</summary>
sealed partial record CellDiagnosis
{
    /// <summary>Index of the row in its study.</summary>
    public required int Variant { get; init; }

    /// <summary>Index of the target in the run; 0 when the run has one.</summary>
    public int Target { get; init; }

    /// <summary>Index of the input in its study.</summary>
    public required int Input { get; init; }

    /// <summary>Wall time of its first call, each in a process in which nothing of the study ran before, in nanoseconds.</summary>
    public IReadOnlyList<long> FirstCallNanoseconds { get; init => field = value ?? []; } = [];

    /// <summary>Types it allocates, most frequent first.</summary>
    public IReadOnlyList<AllocatedType> AllocatedTypes { get; init => field = value ?? []; } = [];

    /// <summary>Versions of the operation's method that the runtime made, oldest first; empty when that was not looked at.</summary>
    public IReadOnlyList<CodeVersion> CodeVersions { get; init => field = value ?? []; } = [];

    /// <summary>Bytes that stay in use as long as what was prepared does; null when that was not looked at.</summary>
    public double? RetainedBytes { get; init; }

    /// <summary>What the processor's own counters say of a call; null when that was not looked at.</summary>
    public HardwareCounts? Counters { get; init; }
}
