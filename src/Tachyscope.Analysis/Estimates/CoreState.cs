namespace Tachyscope.Analysis.Estimates;

/// <summary>Which readings figures are made of, by how the gauge beside them found the core.</summary>
internal enum CoreState
{
    /// <summary>All of them.</summary>
    Any,

    /// <summary>Those before and after which the core was ours alone.</summary>
    Quiet,

    /// <summary>Those before and after which it was shared.</summary>
    Shared,
}
