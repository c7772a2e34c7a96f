namespace Tachyscope.Analysis.Findings;

/// <summary>What each row is compared with.</summary>
public enum Against
{
    /// <summary>The baseline.</summary>
    Baseline,

    /// <summary>The row before it, in the order of definition, and the last with the first.</summary>
    Previous,

    /// <summary>Each other row, the baseline among them.</summary>
    Each,
}
