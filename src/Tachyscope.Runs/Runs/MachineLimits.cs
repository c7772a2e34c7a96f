namespace Tachyscope.Runs;

/// <summary>What one processor of a machine can do at most, as measured on it.</summary>
sealed partial record MachineLimits
{
    /// <summary>The machine it was measured on; limits of another one say nothing.</summary>
    public required MachineDescription Machine { get; init; }

    /// <summary>When it was measured, in universal time.</summary>
    public required DateTimeOffset Measured { get; init; }

    /// <summary>Bytes read per second from each level, nearest first; the last is main memory.</summary>
    public required IReadOnlyList<MemoryLimit> Memory { get; init; }

    /// <summary>Additions and multiplications of doubles per second, in the widest vectors.</summary>
    public required double OperationsPerSecond { get; init; }
}
