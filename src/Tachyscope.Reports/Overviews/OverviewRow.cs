namespace Tachyscope.Reports.Overviews;

/// <summary>A variant's row: what is known of it on every input.</summary>
public sealed record OverviewRow
{
    /// <summary>Name of the variant.</summary>
    public required string Variant { get; init; }

    /// <summary>One cell for each column; null where it has none.</summary>
    public required IReadOnlyList<OverviewCell?> Cells { get; init; }

    /// <summary>Bytes allocated per call over all columns, such as "72 B to 1.35 KiB"; empty where no two variants differ.</summary>
    public required string Bytes { get; init; }

    /// <summary>What the row is: "baseline", "take", "once"; empty for any other.</summary>
    public required string Remark { get; init; }
}
