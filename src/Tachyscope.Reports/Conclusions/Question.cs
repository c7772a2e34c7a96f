namespace Tachyscope.Reports.Conclusions;

/// <summary>What a sentence of a conclusion answers.</summary>
public enum Question
{
    /// <summary>Which variant is to be taken?</summary>
    Decision,

    /// <summary>How do the variants stand to each other?</summary>
    Ranking,

    /// <summary>What came of a chain of changes?</summary>
    Chain,

    /// <summary>How do times grow with the size?</summary>
    Growth,

    /// <summary>Which setting of a dial is best?</summary>
    Dial,

    /// <summary>After how many uses does preparing pay?</summary>
    BreakEven,

    /// <summary>Where does the order turn round?</summary>
    Flip,

    /// <summary>Which stage makes a difference?</summary>
    Stage,

    /// <summary>What is the collector's part in a difference?</summary>
    Collections,

    /// <summary>Are declared limits kept?</summary>
    Limit,

    /// <summary>What is open, and what would settle it?</summary>
    Open,

    /// <summary>Which compiler or flag of another language changes what?</summary>
    Guest,

    /// <summary>What changes from one target to another?</summary>
    Target,

    /// <summary>How near does the fastest come to what the machine can do at most?</summary>
    Roof,
}
