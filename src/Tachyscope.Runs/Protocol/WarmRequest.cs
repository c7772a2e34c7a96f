namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Warm"/>.</summary>
sealed partial record WarmRequest
{
    /// <summary>Indices of the cells to warm.</summary>
    public required IReadOnlyList<int> Cells { get; init; }

    /// <summary>
    /// How long no method may have been compiled before the loops are built, and again before the cells count as settled, in milliseconds:
    /// so much, and twice the runtime's own wait before it optimises.
    /// </summary>
    /// <remarks>The runtime optimises in waves that come one or two of its waits after new code was last called.</remarks>
    public int QuietMilliseconds { get; init; } = 60;

    /// <summary>When to give up waiting for that, in milliseconds.</summary>
    public int CapMilliseconds { get; init; } = 2_000;

    /// <summary>Calls each cell must have had before it counts as settled.</summary>
    public int LeastCalls { get; init; } = 60;

    /// <summary>Whether to hear meanwhile what is compiled, which takes a little of the processor; false by default.</summary>
    public bool IsCodeHeard { get; init; }

    /// <summary>Length aimed at for one reading, in nanoseconds.</summary>
    public int ReadingNanoseconds { get; init; } = 50_000;
}
