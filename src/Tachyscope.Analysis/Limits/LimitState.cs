namespace Tachyscope.Analysis.Limits;

/// <summary>What became of a limit.</summary>
public enum LimitState
{
    /// <summary>There is no interval, as after a single sitting.</summary>
    Unknown,

    /// <summary>The whole interval lies within it.</summary>
    Kept,

    /// <summary>The interval reaches beyond it: it is not shown to be kept.</summary>
    Unsure,

    /// <summary>The whole interval lies beyond it.</summary>
    Broken,
}
