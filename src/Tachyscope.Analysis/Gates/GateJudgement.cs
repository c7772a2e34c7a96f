using Tachyscope.Analysis.Histories;

namespace Tachyscope.Analysis.Gates;

/// <summary>What a gate finds of a cell.</summary>
public enum GateAnswer
{
    /// <summary>Shown to be no slower than its margin allows.</summary>
    Kept,

    /// <summary>Shown to be slower than its margin allows.</summary>
    Slower,

    /// <summary>Neither is shown.</summary>
    Unclear,

    /// <summary>It did other work than before, of which its time says nothing.</summary>
    OtherWork,
}

/// <summary>What a gate finds of a cell, and by which rule.</summary>
/// <param name="Cell">The cell.</param>
/// <param name="Rule">The rule.</param>
/// <param name="Answer">What its time is found to be.</param>
/// <param name="IsMoreAllocated">Whether it allocates more than before and may not.</param>
public sealed record GateJudgement(GateCell Cell, GateRule Rule, GateAnswer Answer, bool IsMoreAllocated)
{
    /// <summary>Whether it closes the gate.</summary>
    public bool IsFailure => IsMoreAllocated || Answer is GateAnswer.Slower or GateAnswer.OtherWork
        || (Answer == GateAnswer.Unclear && Rule.IsUnclearFailure);

    /// <summary>Judges cells, each by the last rule that is for it.</summary>
    /// <param name="cells">The cells.</param>
    /// <param name="rules">The rules; those for all of them by default.</param>
    /// <remarks>
    /// Slower is a cell whose whole interval lies beyond its margin, kept is one whose whole interval lies below. Only one of them can be
    /// wrong of a cell, whatever it truly takes, so that each is a test of one side (Schuirmann, 1987), at the level at which the cells of
    /// an input hold together; unchanged code closes a gate less often than that, by as much as the margin is wide.
    /// </remarks>
    public static IReadOnlyList<GateJudgement> Of(IReadOnlyList<GateCell> cells, IReadOnlyList<GateRule> rules)
    {
        ArgumentNullException.ThrowIfNull(cells);
        ArgumentNullException.ThrowIfNull(rules);
        return [.. cells.Select(cell => Of(cell, rules.LastOrDefault(rule => rule.IsFor(cell)) ?? new GateRule()))];
    }

    private static GateJudgement Of(GateCell cell, GateRule rule)
    {
        var (ratio, most) = (cell.TimeRatio, 1 + rule.MarginShare);
        if (cell.Work is not null)
        {
            return new GateJudgement(cell, rule, GateAnswer.OtherWork, IsMoreAllocated: false);
        }

        var answer = ratio.IsKnown && ratio.Upper <= most ? GateAnswer.Kept
            : ratio.IsKnown && ratio.Lower > most ? GateAnswer.Slower
            : GateAnswer.Unclear;
        return new GateJudgement(cell, rule, answer, !rule.IsMoreAllocationAllowed && Allocation.IsMore(cell.BytesBefore, cell.Bytes));
    }
}
