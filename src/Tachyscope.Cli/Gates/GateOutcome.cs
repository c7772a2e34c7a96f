using Tachyscope.Analysis.Gates;
using Tachyscope.Reports.Histories;

namespace Tachyscope.Cli.Gates;

/// <summary>What came of a gate.</summary>
/// <param name="Judged">What was found of each cell.</param>
/// <param name="Report">The same for people; null when it could not judge.</param>
/// <param name="IsClosed">Whether something closes it.</param>
/// <param name="Problem">Why it could not judge; null when it could.</param>
internal sealed record GateOutcome(IReadOnlyList<GateJudgement> Judged, HistoryReport? Report, bool IsClosed, string? Problem = null)
{
    /// <summary>That it could not judge.</summary>
    /// <param name="problem">Why.</param>
    public static GateOutcome Unjudged(string problem) => new([], null, false, problem);
}
