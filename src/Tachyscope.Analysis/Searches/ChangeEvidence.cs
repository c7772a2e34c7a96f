using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Searches;

/// <summary>On which side of a step between two ends the larger part of their difference lies.</summary>
/// <param name="IsChanged">Whether it lies before the step, so that the step itself is changed already.</param>
/// <param name="IsSure">Whether that is told; it is not where both parts may be equal.</param>
/// <param name="IsShared">Whether both parts are surely beyond the margin: more than one step changed it.</param>
public readonly record struct ChangeEvidence(bool IsChanged, bool IsSure, bool IsShared)
{
    /// <summary>Reads it from the two ends' times, both as multiples of the time at the step between them.</summary>
    /// <param name="low">The earlier end's.</param>
    /// <param name="high">The later end's.</param>
    /// <param name="marginShare">Smallest difference that matters, as a share.</param>
    /// <returns>Nothing sure where either is not bounded.</returns>
    /// <remarks>
    /// It may be looked at again and again while readings come in: what it takes to be sure is an interval free of zero and no wider than
    /// the whole difference. A step that lies wholly on one side is told wrongly then only if readings favour the false side by a
    /// likelihood ratio of exp(2 · 1.96 · 1.96) at intervals of 95 %, as in A. Wald, "Sequential Tests of Statistical Hypotheses",
    /// Ann. Math. Stat. 16 (1945).
    /// </remarks>
    public static ChangeEvidence OfTimes(Interval low, Interval high, double marginShare)
    {
        var (before, after) = (low.Through(Math.Log), high.Through(Math.Log));
        if (!before.IsBounded || !after.IsBounded || !before.IsKnown || !after.IsKnown)
        {
            return default;
        }

        // In the direction of the whole change, the part that came before the step and the one that came after.
        var whole = after.Estimate - before.Estimate;
        var direction = Math.Sign(whole);
        var (earlier, later) = (-direction * before.Estimate, direction * after.Estimate);
        var reach = before.HalfWidth + after.HalfWidth;
        var margin = Math.Log(1 + marginShare);
        return new ChangeEvidence(
            earlier > later,
            Math.Abs(earlier - later) > reach && reach <= Math.Abs(whole),
            earlier - before.HalfWidth > margin && later - after.HalfWidth > margin);
    }

    /// <summary>Reads it from bytes per call, which are counted.</summary>
    /// <param name="low">The earlier end's.</param>
    /// <param name="step">The step's.</param>
    /// <param name="high">The later end's.</param>
    public static ChangeEvidence OfBytes(double low, double step, double high)
    {
        var (earlier, later) = (Math.Abs(step - low), Math.Abs(high - step));
        return new ChangeEvidence(earlier > later, !double.IsNaN(earlier + later),
            Allocation.Differs(low, step) && Allocation.Differs(step, high));
    }
}
