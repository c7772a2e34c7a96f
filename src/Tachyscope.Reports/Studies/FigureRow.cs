namespace Tachyscope.Reports.Studies;

/// <summary>One row of a table of figures.</summary>
/// <param name="Name">What the row is about.</param>
/// <param name="Figures">The figures, one for each heading.</param>
public sealed record FigureRow(string Name, IReadOnlyList<string> Figures);
