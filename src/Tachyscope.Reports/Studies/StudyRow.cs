namespace Tachyscope.Reports.Studies;

/// <summary>One variant's row, in words and figures.</summary>
public sealed record StudyRow
{
    /// <summary>Name of the variant.</summary>
    public required string Variant { get; init; }

    /// <summary>The figures, one for each column of the table; empty where marks or the verdict stand.</summary>
    public required IReadOnlyList<string> Figures { get; init; }

    /// <summary>The interval to draw: one for each speed where there are several; none where there is nothing to draw.</summary>
    public IReadOnlyList<Mark> Marks { get; init; } = [];

    /// <summary>The verdict in a word.</summary>
    public required string Verdict { get; init; }

    /// <summary>What the verdict means.</summary>
    public required Tone Tone { get; init; }
}
