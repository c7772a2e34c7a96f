namespace Tachyscope.Reports.Studies;

/// <summary>A table of figures under a heading.</summary>
public sealed record FigureTable
{
    /// <summary>What it is about, in a line.</summary>
    public required string Title { get; init; }

    /// <summary>Heading of the first column, which names the rows, where the title stands above the table.</summary>
    public required string Of { get; init; }

    /// <summary>Headings of the other columns.</summary>
    public required IReadOnlyList<string> Headings { get; init; }

    /// <summary>Whether the headings are names, which may be shortened like those of rows.</summary>
    public bool AreHeadingsNames { get; init; }

    /// <summary>Whether the figures are mostly words, which read from the left.</summary>
    public bool AreFiguresWords { get; init; }

    /// <summary>The rows.</summary>
    public required IReadOnlyList<FigureRow> Rows { get; init; }
}
