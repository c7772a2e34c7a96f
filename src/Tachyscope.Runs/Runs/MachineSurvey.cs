namespace Tachyscope.Runs;

/// <summary>What a machine is, and how it behaved for a second.</summary>
sealed partial record MachineSurvey
{
    /// <summary>Processor and system.</summary>
    public required MachineDescription Machine { get; init; }

    /// <summary>Runtime of the tool.</summary>
    public required string Runtime { get; init; }

    /// <summary>Caches of the first processor; empty where the system does not tell.</summary>
    public required IReadOnlyList<CacheLevel> Caches { get; init; }

    /// <summary>Width of the widest vector the runtime uses, in bits.</summary>
    public required int VectorBits { get; init; }

    /// <summary>Smallest step of the clock seen, in nanoseconds.</summary>
    public required long ClockStepNanoseconds { get; init; }

    /// <summary>Time it takes to read the clock, in nanoseconds.</summary>
    public required double ClockCostNanoseconds { get; init; }

    /// <summary>Frequency policy of the first processor; null where the system does not tell.</summary>
    public string? Governor { get; init; }

    /// <summary>Processes wanting to run, averaged over the last minute; null where the system does not tell.</summary>
    public double? LoadAverage { get; init; }

    /// <summary>Share of all processors' time used while surveying, this tool's included; null where the system does not tell.</summary>
    public double? BusyShare { get; init; }

    /// <summary>Share of all processors' time the host took for others while surveying; null where the system does not tell.</summary>
    public double? StealShare { get; init; }

    /// <summary>Readings of the metronome, one after the other for a second.</summary>
    public required IReadOnlyList<Reading> Beats { get; init; }

    /// <summary>What the gauge read on each processor.</summary>
    public IReadOnlyList<CoreHeard> Cores { get; init => field = value ?? []; } = [];

    /// <summary>Gauge of a core that is ours alone, in thousandths, by all runs on this machine; 0 when it is not known.</summary>
    public int LowGauge { get; init; }

    /// <summary>Its limits; null when they were never measured.</summary>
    public MachineLimits? Limits { get; init; }

    /// <summary>
    /// Cycles of a virtual call while a core of the machine was ours alone, as whoever measured before saw it; null when nobody did.
    /// </summary>
    public double? QuietCallCycles { get; init; }
}
