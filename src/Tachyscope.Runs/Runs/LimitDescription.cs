namespace Tachyscope.Runs;

/// <summary>An allowance that variants of a study must keep, per call.</summary>
sealed partial record LimitDescription
{
    /// <summary>Most wall time, in nanoseconds; null for any.</summary>
    public double? Nanoseconds { get; init; }

    /// <summary>Most processor time, in nanoseconds; null for any.</summary>
    public double? ProcessorNanoseconds { get; init; }

    /// <summary>Most bytes allocated; null for any.</summary>
    public double? AllocatedBytes { get; init; }

    /// <summary>Name of the variant that must keep it; null for all.</summary>
    public string? Variant { get; init; }

    /// <summary>Label of the input it holds on; null for all.</summary>
    public string? Input { get; init; }
}
