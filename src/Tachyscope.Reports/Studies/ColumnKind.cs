namespace Tachyscope.Reports.Studies;

/// <summary>What a column of a study's table holds.</summary>
public enum ColumnKind
{
    /// <summary>A figure.</summary>
    Figure,

    /// <summary>The interval of the time, drawn to scale.</summary>
    Marks,

    /// <summary>The verdict.</summary>
    Verdict,
}
