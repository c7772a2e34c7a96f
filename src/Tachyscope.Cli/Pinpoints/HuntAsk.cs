using Tachyscope.Lab.Building;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Pinpoints;

/// <summary>What a search for the commit that changed a cell is asked.</summary>
internal sealed record HuntAsk
{
    /// <summary>The study project.</summary>
    public required string Project { get; init; }

    /// <summary>The earlier revision, as it was written.</summary>
    public required string Good { get; init; }

    /// <summary>The later revision, as it was written.</summary>
    public required string Bad { get; init; }

    /// <summary>The commits from the one to the other, both counted.</summary>
    public required IReadOnlyList<Commit> Commits { get; init; }

    /// <summary>Revision whose study is laid over all, or the work tree's; null for the study of each commit.</summary>
    public string? Study { get; init; }

    /// <summary>
    /// Whether the study's own folder changed too, and another is laid over all, so that what changed in it does not show.
    /// </summary>
    public bool IsStudyHidden { get; init; }

    /// <summary>A part of the cell's name; empty for the cell that changed most.</summary>
    public required string Cell { get; init; }

    /// <summary>Whether its bytes are followed; null for time where it is sure to have changed, and bytes elsewhere.</summary>
    public bool? IsByBytes { get; init; }

    /// <summary>What to measure, how long in all and how closely.</summary>
    public required RunPlan Plan { get; init; }
}
