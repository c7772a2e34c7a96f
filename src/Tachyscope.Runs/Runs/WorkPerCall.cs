namespace Tachyscope.Runs;

/// <summary>What one call gets done, as the study declares it.</summary>
sealed partial record WorkPerCall
{
    /// <summary>Things handled, such as lines or beacons; null when not declared.</summary>
    public double? Items { get; init; }

    /// <summary>Bytes read or written; null when not declared.</summary>
    public double? Bytes { get; init; }

    /// <summary>Arithmetic operations; null when not declared.</summary>
    public double? Operations { get; init; }
}
