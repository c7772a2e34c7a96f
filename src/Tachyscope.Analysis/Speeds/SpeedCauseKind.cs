namespace Tachyscope.Analysis.Speeds;

/// <summary>What goes along with the speeds of one code.</summary>
public enum SpeedCauseKind
{
    /// <summary>Whether the operation became part of its measured loop.</summary>
    Inlining,

    /// <summary>How long its machine code is: it was compiled differently.</summary>
    Compilation,

    /// <summary>Where its machine code begins, relative to cache lines.</summary>
    CodePlacement,

    /// <summary>Where its input begins, relative to cache lines.</summary>
    DataPlacement,
}
