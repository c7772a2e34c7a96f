namespace Tachyscope.Reports.Studies;

/// <summary>What of a study is to be shown, and how.</summary>
public sealed record ReportOptions
{
    /// <summary>The defaults.</summary>
    public static ReportOptions Default { get; } = new();

    /// <summary>Order of a table's rows; as defined by default.</summary>
    public SortOrder Sort { get; init; }

    /// <summary>Columns of the tables, by their keys in <see cref="StudyColumn.Keys"/>; null for those that fit and tell something.</summary>
    public IReadOnlyList<string>? Columns { get; init; }

    /// <summary>Whether figures are shown that tell nothing out of the ordinary, and the run's checks on itself; false by default.</summary>
    public bool AreAllFiguresShown { get; init; }
}
