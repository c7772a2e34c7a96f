using Tachyscope.Analysis.Findings;

namespace Tachyscope.Reports.Studies;

/// <summary>One figure that a cell may have: what it is asked for by, its heading, when it is worth showing, how it is written.</summary>
internal sealed record Figure(string Key, string Heading, Func<CellFindings, bool> IsTelling, Func<CellFindings, string> Write)
{
    /// <summary>What its column holds.</summary>
    public ColumnKind Kind { get; init; }

    /// <summary>Whether it follows from the comparison alone.</summary>
    public bool IsOfContrast { get; init; }

    /// <summary>How soon its column goes where room is short, the highest first; null for a figure that stands below the table.</summary>
    public int? Rank { get; init; }

    /// <summary>Its heading where room is short.</summary>
    public string ShortHeading { get; init; } = Heading;

    public StudyColumn Column(Against against)
    {
        var (heading, shortHeading) = (Key, against) switch
        {
            ("factor", Against.Previous) => ("time of the one before", "the one before"),
            _ => (Heading, ShortHeading),
        };
        return new StudyColumn(Key, heading, shortHeading, Kind, Rank ?? 0);
    }
}
