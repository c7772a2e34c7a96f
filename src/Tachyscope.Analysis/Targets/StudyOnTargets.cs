using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Targets;

/// <summary>What was found of a study on several targets.</summary>
/// <param name="Targets">What was found on each.</param>
/// <param name="Contrasts">Every row compared with itself on the first target.</param>
public sealed record StudyOnTargets(IReadOnlyList<StudyFindings> Targets, IReadOnlyList<TargetContrast> Contrasts)
{
    /// <summary>Half-width beyond which a contrast is worth more sittings than usual, as a share of the time compared with.</summary>
    public const double WideShare = 0.015;

    /// <summary>
    /// The same as a part of the difference itself, both as logarithms: what is twice as fast need not be known as closely, and a fifth
    /// of what it is leaves no doubt of it.
    /// </summary>
    public const double WidePart = 0.2;

    /// <summary>A row compared with itself on the first target; null where one of the two has no figures.</summary>
    /// <param name="row">Index of the row.</param>
    /// <param name="input">Index of the input.</param>
    /// <param name="target">Index of the target.</param>
    public TargetContrast? Contrast(int row, int input, int target)
        => Contrasts.FirstOrDefault(contrast => (contrast.Row, contrast.Input, contrast.Target) == (row, input, target));

    /// <summary>Whether every contrast, on a target and across them, is known that tightly.</summary>
    /// <param name="precisionShare">Largest half-width, as a share of the time compared with.</param>
    public bool IsPrecise(double precisionShare)
        => Targets.All(findings => findings.IsPrecise(precisionShare)) && IsPreciseAcross(precisionShare);

    /// <summary>
    /// Sittings after which half of all contrasts, on a target and across them, will probably be as tight as <see cref="WideShare"/> or
    /// <see cref="WidePart"/>; widths shrink with the square root of their number. Null when nothing can be told yet.
    /// </summary>
    public int? SittingsWorth
    {
        get
        {
            double[] times = [.. Targets.SelectMany(findings => findings.Measured).Concat(Measured())
                .Select(ratio => Width.Of(ratio) / Enough(ratio)).Order()];
            return Width.SittingsNeeded(Targets[0].Sittings, times.Length == 0 ? 0 : times[times.Length / 2]);
        }
    }

    /// <summary>Whether every contrast across targets is known that tightly, whatever is known of others.</summary>
    /// <param name="precisionShare">Largest half-width, as a share of the time compared with.</param>
    public bool IsPreciseAcross(double precisionShare)
        => Measured().All(ratio => Width.Of(ratio) <= Math.Log(1 + precisionShare));

    /// <summary>Cells, as variant and input, that are known that tightly across all targets.</summary>
    /// <param name="precisionShare">Largest half-width, as a share of the time compared with.</param>
    public IReadOnlyList<(int Variant, int Input)> DecidedAcross(double precisionShare)
        => [.. Contrasts.GroupBy(contrast => (contrast.Row, contrast.Input))
            .Where(cell => cell.All(contrast
                => contrast.TimeRatio.Bound != Bound.None || Width.Of(contrast.TimeRatio) <= Math.Log(1 + precisionShare)))
            .Select(cell => cell.Key)];

    /// <summary>
    /// Sittings after which every contrast will probably be that tight: widths shrink with the square root of their number.
    /// </summary>
    /// <param name="precisionShare">Largest half-width, as a share of the time compared with.</param>
    /// <returns>Null when nothing can be told yet.</returns>
    public int? SittingsNeeded(double precisionShare)
    {
        var across = Measured().Select(Width.Of).DefaultIfEmpty(0).Max() / Math.Log(1 + precisionShare);
        int?[] needed = [.. Targets.Select(findings => findings.SittingsNeeded(precisionShare)),
            Width.SittingsNeeded(Targets[0].Sittings, across)];
        return needed.Contains(null) ? null : needed.Max();
    }

    private static double Enough(Interval ratio)
        => Math.Max(Math.Log(1 + WideShare), WidePart * Math.Abs(Math.Log(ratio.Estimate)));

    // No time makes a bound narrower.
    private IEnumerable<Interval> Measured()
        => Contrasts.Select(contrast => contrast.TimeRatio).Where(ratio => ratio.Bound == Bound.None);
}
