namespace Tachyscope.Reports.Studies;

/// <summary>One input's table.</summary>
public sealed record StudyTable
{
    /// <summary>Label of the input.</summary>
    public required string Input { get; init; }

    /// <summary>The columns after the name, left to right.</summary>
    public required IReadOnlyList<StudyColumn> Columns { get; init; }

    /// <summary>Whether the columns were asked for, so that none may go where room is short.</summary>
    public bool AreColumnsChosen { get; init; }

    /// <summary>The rows, in the order asked for.</summary>
    public required IReadOnlyList<StudyRow> Rows { get; init; }

    /// <summary>Scale of the marks; null when there are none.</summary>
    public MarkScale? Scale { get; init; }

    /// <summary>Further figures of the rows: what the collector did, stages, threads, rates.</summary>
    public IReadOnlyList<FigureTable> Figures { get; init; } = [];
}
