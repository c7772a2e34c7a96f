namespace Tachyscope.Analysis.Uses;

/// <summary>Whether preparing once pays.</summary>
public enum BreakEvenAnswer
{
    /// <summary>More time would be needed to tell.</summary>
    Unclear,

    /// <summary>After so many uses.</summary>
    After,

    /// <summary>From the first use on.</summary>
    Always,

    /// <summary>However often it is used.</summary>
    Never,
}
