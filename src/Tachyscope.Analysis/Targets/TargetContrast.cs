using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Targets;

/// <summary>A row compared with itself on the first target.</summary>
/// <param name="Row">Index of the row.</param>
/// <param name="Input">Index of the input.</param>
/// <param name="Target">Index of the target.</param>
/// <param name="TimeRatio">
/// Its time there as a multiple of its time on the first target, holding together with those of the other rows of that input and target.
/// </param>
/// <param name="OneSidedTimeRatio">
/// The same where one end decides, such as a gate: each end by itself holds together with those of the other rows.
/// </param>
/// <param name="Verdict">What it says.</param>
public sealed record TargetContrast(int Row, int Input, int Target, Interval TimeRatio, Interval OneSidedTimeRatio, Verdict Verdict)
{
    /// <summary>The same of each repeat by itself; empty when the comparison was made once.</summary>
    public IReadOnlyList<Interval> Repeats { get; init; } = [];

    /// <summary>Whether no two repeats are further apart than their intervals allow; true without repeats.</summary>
    public bool DoRepeatsAgree
        => Repeats.Where(repeat => repeat.IsBounded).ToList() is not { Count: > 1 } bounded
            || bounded.Max(repeat => repeat.Lower) <= bounded.Min(repeat => repeat.Upper);
}
