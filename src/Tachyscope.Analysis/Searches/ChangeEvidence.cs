using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Searches;

/// <summary>What a look at a step between two ends that differ tells of where the change lies.</summary>
/// <param name="LogOdds">
/// Logarithm of how many times as probable what was seen is if the step lies after the change than if it lies before; 0 for nothing told.
/// </param>
/// <param name="IsShared">Whether both parts of the difference are surely beyond the margin: more than one step changed it.</param>
public readonly record struct ChangeEvidence(double LogOdds, bool IsShared)
{
    /// <summary>Log odds of what is exact.</summary>
    public const double Certain = 20;

    // One error in 400: what is assumed of noise holds no further.
    private const double Most = 6;
    private const int LeastSittings = 6;

    /// <summary>Whether the step lies after the change rather than before.</summary>
    public bool IsChanged => LogOdds > 0;

    /// <summary>Whether more readings would tell no more.</summary>
    public bool IsSure => Math.Abs(LogOdds) >= Most;

    /// <summary>Reads it from the two ends' times, both as multiples of the time at the step between them.</summary>
    /// <param name="low">The earlier end's.</param>
    /// <param name="high">The later end's.</param>
    /// <param name="sittings">Sittings that both come from.</param>
    /// <param name="changeRatio">The later end's time as a multiple of the earlier's, as earlier readings tell it.</param>
    /// <param name="marginShare">Smallest difference that matters, as a share.</param>
    /// <returns>Nothing told where either is not bounded, or there are fewer than six sittings.</returns>
    /// <remarks>
    /// The likelihood ratio of normal errors between a change that lies wholly before the step and one that lies wholly after it; such a
    /// ratio may be looked at again and again while readings come in: A. Wald, "Sequential Tests of Statistical Hypotheses", Ann. Math.
    /// Stat. 16 (1945). Both multiples share the step's own error; the variance taken is the largest that allows.
    /// </remarks>
    public static ChangeEvidence OfTimes(Interval low, Interval high, int sittings, double changeRatio, double marginShare)
    {
        var (before, after) = (low.Through(Math.Log), high.Through(Math.Log));
        if (!before.IsBounded || !after.IsBounded || !before.IsKnown || !after.IsKnown || sittings < LeastSittings)
        {
            return default;
        }

        // In the direction of the whole change, the part that came before the step and the one that came after.
        var change = Math.Log(changeRatio);
        var direction = Math.Sign(change);
        var (earlier, later) = (-direction * before.Estimate, direction * after.Estimate);
        // What a few noisy readings say of the whole change may be far too much.
        var whole = Math.Clamp(earlier + later, 0, Math.Abs(change));
        var variance = 2 * (Variance(before, sittings) + Variance(after, sittings));
        var margin = Math.Log(1 + marginShare);
        return new ChangeEvidence(
            variance == 0 ? Most * Math.Sign(earlier - later) : Math.Clamp(2 * (earlier - later) * whole / variance, -Most, Most),
            earlier - before.HalfWidth > margin && later - after.HalfWidth > margin);
    }

    /// <summary>Reads it from bytes per call, which are counted.</summary>
    /// <param name="low">The earlier end's.</param>
    /// <param name="step">The step's.</param>
    /// <param name="high">The later end's.</param>
    public static ChangeEvidence OfBytes(double low, double step, double high)
    {
        var (earlier, later) = (Math.Abs(step - low), Math.Abs(high - step));
        return double.IsNaN(earlier + later) ? default
            : new ChangeEvidence(earlier > later ? Certain : -Certain, Allocation.Differs(low, step) && Allocation.Differs(step, high));
    }

    private static double Variance(Interval interval, int sittings)
        => Math.Pow(interval.HalfWidth / SampleMean.Quantile(SampleMean.Freedom(sittings), interval.Level), 2);
}
