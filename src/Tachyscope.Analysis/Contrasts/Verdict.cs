namespace Tachyscope.Analysis.Contrasts;

/// <summary>What a contrast says.</summary>
public enum Verdict
{
    /// <summary>More time would be needed to tell.</summary>
    Unclear,

    /// <summary>Faster than the baseline, beyond what two copies of the baseline differ by.</summary>
    Faster,

    /// <summary>Slower than the baseline, beyond what two copies of the baseline differ by.</summary>
    Slower,

    /// <summary>Within the margin of the baseline.</summary>
    Same,
}
