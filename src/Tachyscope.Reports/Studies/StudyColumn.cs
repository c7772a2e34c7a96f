namespace Tachyscope.Reports.Studies;

/// <summary>A column of a study's table.</summary>
/// <param name="Key">What it is asked for by.</param>
/// <param name="Heading">Its heading.</param>
/// <param name="ShortHeading">Its heading where room is short.</param>
/// <param name="Kind">What it holds.</param>
/// <param name="Rank">How soon it goes where room is short, the highest first; 0 for one that stays.</param>
public sealed record StudyColumn(string Key, string Heading, string ShortHeading, ColumnKind Kind, int Rank)
{
    /// <summary>All keys, in the order of the tables.</summary>
    public static IReadOnlyList<string> Keys { get; } = [.. FigureCatalogue.All.Select(figure => figure.Key)];
}
