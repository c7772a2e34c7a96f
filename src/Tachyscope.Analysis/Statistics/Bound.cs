namespace Tachyscope.Analysis.Statistics;

/// <summary>What an estimate is of a figure that could not be measured itself.</summary>
public enum Bound
{
    /// <summary>The estimate is the figure's own.</summary>
    None,

    /// <summary>The figure is at most the estimate.</summary>
    AtMost,

    /// <summary>The figure is at least the estimate.</summary>
    AtLeast,

    /// <summary>The figure compares two of which each is only known to be at most so much, and may be anything.</summary>
    Open,
}
