namespace Tachyscope.Runs;

/// <summary>One version of a method's machine code, as the runtime announced it.</summary>
sealed partial record CodeVersion
{
    /// <summary>How it was compiled.</summary>
    public required CodeTier Tier { get; init; }

    /// <summary>When it was ready, in milliseconds since the first call.</summary>
    public required double Milliseconds { get; init; }

    /// <summary>Length of its code, in bytes.</summary>
    public int CodeBytes { get; init; }
}
