namespace Tachyscope.Analysis.Growth;

/// <summary>How a time grows with a size n, simplest first; all but the first with a fixed part of its own.</summary>
public enum GrowthLaw
{
    /// <summary>Not at all.</summary>
    Constant,

    /// <summary>As log n.</summary>
    Logarithmic,

    /// <summary>As n.</summary>
    Linear,

    /// <summary>As n log n.</summary>
    Linearithmic,

    /// <summary>As n².</summary>
    Quadratic,

    /// <summary>As n³.</summary>
    Cubic,

    /// <summary>As n, and from some size on as n with more time for each.</summary>
    LinearWithStep,

    /// <summary>As none of these.</summary>
    None,
}
