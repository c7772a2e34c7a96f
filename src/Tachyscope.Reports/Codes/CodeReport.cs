using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Codes;

/// <summary>What was made of a study's variants, in sentences, a table and texts; without a terminal.</summary>
public sealed record CodeReport
{
    /// <summary>What it is about, in a line.</summary>
    public required string Title { get; init; }

    /// <summary>What is to be said first, each with what it means.</summary>
    public required IReadOnlyList<(Tone Tone, string Text)> Sentences { get; init; }

    /// <summary>What can be counted, a row for each variant; null when there is nothing to count.</summary>
    public required FigureTable? Facts { get; init; }

    /// <summary>The same as statements that can be read alone.</summary>
    public required IReadOnlyList<string> Statements { get; init; }

    /// <summary>The code asked for.</summary>
    public required IReadOnlyList<CodeText> Texts { get; init; }

    /// <summary>What holds for all of it, a line each.</summary>
    public required IReadOnlyList<string> Notes { get; init; }
}
