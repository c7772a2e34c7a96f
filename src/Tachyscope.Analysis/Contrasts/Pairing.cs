using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Speeds;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Contrasts;

/// <summary>Which cells are paired round by round to compare two rows.</summary>
/// <remarks>
/// Each row is paired with the one that all of its kind are paired with, so that of three rows two contrasts give the third.
/// What is only known to take at most so much is paired directly: its ratios are bounds.
/// </remarks>
internal sealed class Pairing(SittingsView view)
{
    private readonly Dictionary<(int Row, int Input), double[]> _levels = [];

    public SittingsView View { get; } = view;

    /// <summary>Rows that settle at several speeds.</summary>
    public SpeedFinder Speeds { get; } = new(view);

    /// <summary>A row's time over another's.</summary>
    public RatioSeries Ratio(int row, int other, int input)
    {
        var (atMost, otherAtMost) = (View.AtMost(row, input), View.AtMost(other, input));
        var bound = row == other ? Bound.None : Of(atMost, otherAtMost);
        if (bound == Bound.Open)
        {
            return Nothing();
        }

        var (anchor, others) = (Anchor(row, input), Anchor(other, input));
        var isDirect = bound != Bound.None || other == anchor || anchor != others || View.AtMost(anchor, input) is not null;
        return new RatioSeries(
            other == anchor && bound == Bound.None ? Levels(row, anchor, input)
                : isDirect ? Paired(row, other, input, atMost, otherAtMost)
                : Difference(Levels(row, anchor, input), Levels(other, anchor, input)),
            bound);
    }

    /// <summary>A row's time over its own on another target.</summary>
    public RatioSeries OverTarget(int row, int input, int other)
    {
        var (atMost, otherAtMost) = (View.AtMost(row, input), View.AtMost(row, input, other));
        return Of(atMost, otherAtMost) is Bound.Open ? Nothing() : new RatioSeries(
            View.LogRatios(CellKind.Variant, row, row, input, other, atMost, otherAtMost),
            Of(atMost, otherAtMost));
    }

    /// <summary>A row's time over its own on another machine, which has sittings of its own.</summary>
    public RatioSeries OverMachine(Pairing other, int row, int input)
    {
        var bound = Of(View.AtMost(row, input), other.View.AtMost(row, input));
        return bound is Bound.Open ? Nothing() : RatioSeries.Apart(View.Times(row, input), other.View.Times(row, input), bound);
    }

    /// <summary>The time of a baseline's twin over its own; nothing where that is too short to be measured.</summary>
    public double[] Twin(int baseline, int input)
        => View.AtMost(baseline, input) is not null ? Nothing().Logs
            : View.LogRatios(CellKind.Twin, baseline, baseline, input, View.Target);

    /// <summary>A row's time over another's with collections paid: each with what they add to a typical call of its sitting.</summary>
    public RatioSeries PaidRatio(int row, int other, int input)
        => Scaled(Ratio(row, other, input), View.PaidTimes, View.Times, row, other, input);

    /// <summary>
    /// Time that a row saves per call against another with collections paid, in nanoseconds; a bound where one of the two is one.
    /// </summary>
    public Interval Saved(int row, int other, int input, double level)
        => Saved(PaidRatio(row, other, input), View.PaidTimes(row, input), View.PaidTimes(other, input), row, other, input, level);

    /// <summary>Processor time that it saves.</summary>
    public Interval SavedProcessorTime(int row, int other, int input, double level)
    {
        var ratio = Scaled(Ratio(row, other, input), View.ProcessorTimes, View.Times, row, other, input);
        return Saved(ratio, View.ProcessorTimes(row, input), View.ProcessorTimes(other, input), row, other, input, level);
    }

    // Of two times that were measured, by their paired ratio: what slows both alike does not blur what one saves.
    private Interval Saved(RatioSeries ratio, double[] own, double[] others, int row, int other, int input, double level)
    {
        Interval Mean(IEnumerable<double> series) => SampleStatistics.MeanInterval([.. series], level);
        return (View.AtMost(row, input), View.AtMost(other, input)) switch
        {
            ({ } most, { } otherMost) => new Interval(double.NaN, -most, otherMost, level) { Bound = Bound.Open },
            ({ } most, null) => Mean(others.Select(time => time - most)) with { Upper = Mean(others).Upper, Bound = Bound.AtLeast },
            (null, { } otherMost) => Mean(own.Select(time => otherMost - time)) with { Lower = -Mean(own).Upper, Bound = Bound.AtMost },
            _ => Mean(others.Select((time, sitting) => time * (1 - Math.Exp(ratio.Logs[sitting])))),
        };
    }

    // The ratio of other times of the same calls, by what these are of those that were paired.
    private static RatioSeries Scaled(
        RatioSeries ratio, Func<int, int, double[]> times, Func<int, int, double[]> paired, int row, int other, int input)
    {
        double[] Share(int of) => [.. times(of, input).Zip(paired(of, input), (time, pairedTime) => Math.Log(time / pairedTime))];
        var (own, others) = (Share(row), Share(other));
        return ratio.Bound != Bound.None
            ? ratio
            : ratio with { Logs = [.. ratio.Logs.Select((log, sitting) => log + own[sitting] - others[sitting])] };
    }

    /// <summary>One series less another.</summary>
    public static double[] Difference(double[] from, double[] taken)
    {
        var left = new double[from.Length];
        for (var sitting = 0; sitting < left.Length; sitting++)
        {
            left[sitting] = from[sitting] - taken[sitting];
        }

        return left;
    }

    private static Bound Of(double? atMost, double? otherAtMost) => (atMost, otherAtMost) switch
    {
        (null, null) => Bound.None,
        (not null, null) => Bound.AtMost,
        (null, not null) => Bound.AtLeast,
        _ => Bound.Open,
    };

    private RatioSeries Nothing() => new([.. Enumerable.Repeat(double.NaN, View.Sittings)], Bound.Open);

    // The row that all rows of one kind are paired with: their baseline, or the first that has figures.
    private int Anchor(int row, int input)
    {
        var variants = View.Record.Study.Variants;
        if (View.Record.Study.Reference(row) is { } reference && View.Failure(reference, input) is null)
        {
            return reference;
        }

        return Enumerable.Range(0, variants.Count).FirstOrDefault(
            other => View.Failure(other, input) is null && variants[other].Loop.Threads == variants[row].Loop.Threads
                && (variants[other].Part == VariantPart.Prepare) == (variants[row].Part == VariantPart.Prepare),
            row);
    }

    private double[] Levels(int row, int anchor, int input)
        => _levels.TryGetValue((row, input), out var found) ? found : _levels[(row, input)] = Paired(row, anchor, input, null, null);

    private double[] Paired(int row, int other, int input, double? atMost, double? otherAtMost)
        => View.LogRatios(CellKind.Variant, row, other, input, View.Target, atMost, otherAtMost);
}
