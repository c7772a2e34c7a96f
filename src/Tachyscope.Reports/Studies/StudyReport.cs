using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Conclusions;
using Tachyscope.Reports.Overviews;

namespace Tachyscope.Reports.Studies;

/// <summary>What is to be shown of one study, ready for a terminal, a page or a file.</summary>
public sealed record StudyReport
{
    /// <summary>Name of the study.</summary>
    public required string Study { get; init; }

    /// <summary>What the intervals support, in plain sentences: the decision first.</summary>
    public IReadOnlyList<Sentence> Conclusion { get; init; } = [];

    /// <summary>The study in one table; null where nothing was measured.</summary>
    public OverviewTable? Overview { get; init; }

    /// <summary>The study on several targets, one table for each input; empty on one target.</summary>
    public IReadOnlyList<OverviewTable> TargetTables { get; init; } = [];

    /// <summary>Why variants have no figures, one line each.</summary>
    public IReadOnlyList<string> Failures { get; init; } = [];

    /// <summary>Of its rows in other languages, what compiler or runtime each was made by, in its own words.</summary>
    public IReadOnlyList<string> Guests { get; init; } = [];

    /// <summary>What is doubtful here, in a line each; empty where the caveats are shown in full.</summary>
    public IReadOnlyList<Doubt> Doubts { get; init; } = [];

    /// <summary>One table for each input, where they are asked for; that of a single input always.</summary>
    public required IReadOnlyList<StudyTable> Tables { get; init; }

    /// <summary>Whether they were asked for, beyond the one that a terminal shows for a single input.</summary>
    public bool AreTablesAsked { get; init; }

    /// <summary>Times over sizes, to be drawn; empty without sizes.</summary>
    public IReadOnlyList<GrowthChart> Charts { get; init; } = [];

    /// <summary>Tables of what goes beyond one input: growth, dials, break-evens, stages, limits, payoff.</summary>
    public IReadOnlyList<FigureTable> Answers { get; init; } = [];

    /// <summary>The ground under the figures, in one line; empty unless it is asked for.</summary>
    public required string Environment { get; init; }

    /// <summary>What has to be known to read the tables, one sentence each.</summary>
    public IReadOnlyList<string> Remarks { get; init; } = [];

    /// <summary>The run's checks on itself; empty unless all figures are shown.</summary>
    public IReadOnlyList<FigureTable> Checks { get; init; } = [];

    /// <summary>Reasons to distrust the figures, the same reason told once.</summary>
    public required IReadOnlyList<Caveat> Caveats { get; init; }

    /// <summary>Why the study ended early; null when it did not.</summary>
    public string? Note { get; init; }
}
