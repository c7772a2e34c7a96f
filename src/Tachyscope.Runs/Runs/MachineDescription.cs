namespace Tachyscope.Runs;

/// <summary>The machine a run was measured on.</summary>
sealed partial record MachineDescription
{
    /// <summary>Model of the processor as the system names it; "unknown" where it does not.</summary>
    public required string Processor { get; init; }

    /// <summary>Processors the system offers.</summary>
    public required int ProcessorCount { get; init; }

    /// <summary>Operating system and version.</summary>
    public required string OperatingSystem { get; init; }

    /// <summary>Width of the widest vectors that the processor is known to have, in bits; null where the system does not tell.</summary>
    public int? VectorBits { get; init; }

    /// <summary>Processors' worth of time that the system gives at most, as a container may have it; null where it sets no bound.</summary>
    public double? ProcessorQuota { get; init; }

    /// <summary>Frequency policy of the first processor; null where the system does not tell.</summary>
    public string? Governor { get; init; }
}
