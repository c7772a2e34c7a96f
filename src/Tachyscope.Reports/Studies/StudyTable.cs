namespace Tachyscope.Reports.Studies;

/// <summary>One input's table.</summary>
public sealed record StudyTable
{
    /// <summary>Label of the input.</summary>
    public required string Input { get; init; }

    /// <summary>The rows, in the order the variants were defined.</summary>
    public required IReadOnlyList<StudyRow> Rows { get; init; }

    /// <summary>Scale of the marks; null when there are none.</summary>
    public MarkScale? Scale { get; init; }

    /// <summary>Why variants have no figures, one line each.</summary>
    public required IReadOnlyList<string> Failures { get; init; }

    /// <summary>Further figures of the rows: what the collector did, stages, threads, rates.</summary>
    public IReadOnlyList<FigureTable> Figures { get; init; } = [];
}
