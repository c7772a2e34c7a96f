namespace Tachyscope.Reports.Overviews;

/// <summary>A study in one table: rows are variants, columns are inputs or targets.</summary>
public sealed record OverviewTable
{
    /// <summary>What stands above the names of the rows; empty for nothing.</summary>
    public string Title { get; init; } = "";

    /// <summary>The columns.</summary>
    public required IReadOnlyList<string> Columns { get; init; }

    /// <summary>The rows.</summary>
    public required IReadOnlyList<OverviewRow> Rows { get; init; }

    /// <summary>Whether bytes are not the same in all columns of a row.</summary>
    public bool DoBytesVary { get; init; }
}
