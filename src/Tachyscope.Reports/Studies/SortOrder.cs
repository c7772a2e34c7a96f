namespace Tachyscope.Reports.Studies;

/// <summary>The order of a table's rows.</summary>
public enum SortOrder
{
    /// <summary>As the study defines them.</summary>
    Defined,

    /// <summary>Least time first.</summary>
    Time,

    /// <summary>Fewest bytes first.</summary>
    Bytes,

    /// <summary>By name.</summary>
    Name,
}
