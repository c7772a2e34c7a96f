namespace Tachyscope.Reports.Studies;

/// <summary>What a row's verdict means for the reader; shown by colour beside the word.</summary>
public enum Tone
{
    /// <summary>The row others are compared with.</summary>
    Reference,

    /// <summary>An improvement.</summary>
    Good,

    /// <summary>A loss.</summary>
    Bad,

    /// <summary>No difference that matters.</summary>
    Even,

    /// <summary>Not known.</summary>
    Open,

    /// <summary>Not measured.</summary>
    Failed,

    /// <summary>Measured, and comparable with nothing.</summary>
    Aside,
}
