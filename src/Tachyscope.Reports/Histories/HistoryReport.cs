using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Histories;

/// <summary>What saved runs tell, in sentences and tables; without a terminal.</summary>
public sealed record HistoryReport
{
    /// <summary>What it is about, a line each.</summary>
    public IReadOnlyList<string> Heads { get; init; } = [];

    /// <summary>Its parts, each with a sentence and what it rests on.</summary>
    public IReadOnlyList<HistoryPart> Parts { get; init; } = [];

    /// <summary>What holds for all of it, a line each.</summary>
    public IReadOnlyList<string> Notes { get; init; } = [];
}

/// <summary>A part of it.</summary>
/// <param name="Title">What it is about, such as a study.</param>
/// <param name="Sentences">What is to be said, each with what it means.</param>
/// <param name="Table">What that rests on; null for nothing.</param>
/// <param name="Statements">The table's rows as statements that can be read alone.</param>
public sealed record HistoryPart(
    string Title, IReadOnlyList<(Tone Tone, string Text)> Sentences, FigureTable? Table, IReadOnlyList<string> Statements);
