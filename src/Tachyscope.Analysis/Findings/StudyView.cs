using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Stages;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>A study's sittings side by side: one value per sitting, and the interval over them.</summary>
/// <remarks>A series holds one value for each sitting, in their order; NaN where a cell has none.</remarks>
internal sealed class StudyView(
    StudyRecord record, IReadOnlyList<SittingFigures> sittings, double referenceBeat, double level, double marginShare, int target = 0)
{
    private readonly Dictionary<(int Row, int Input), double[]> _levels = [];
    private readonly Dictionary<(int Row, int Input, CallOrder Order), double[]> _times = [];
    private readonly HashSet<(int Row, int Input)> _failed = [.. record.Failures.Select(failure => (failure.Variant, failure.Input))];

    public StudyRecord Record { get; } = record;

    public int Sittings => sittings.Count;

    /// <summary>Index of the target whose cells are looked at.</summary>
    public int Target { get; } = target;

    public double Level { get; } = level;

    /// <summary>Time of one link of the metronome that times are stated at, in nanoseconds.</summary>
    public double ReferenceBeat { get; } = referenceBeat;

    public double MarginShare { get; } = marginShare;

    public CellFailure? Failure(int variant, int input)
        => !_failed.Contains((variant, input)) ? null
            : Record.Failures.First(failure => failure.Variant == variant && failure.Input == input);

    /// <summary>Time per call in the order of calls asked for, in nanoseconds.</summary>
    public double[] Times(int variant, int input, CallOrder order)
        => Kept(_times, (variant, input, order), () =>
            Series(CellKind.Variant, variant, input, order, (sitting, cell) => sitting.MedianTime(cell, ReferenceBeat)));

    /// <summary>Time per call in the order of calls the row is shown with, in nanoseconds.</summary>
    public double[] Times(int variant, int input) => Times(variant, input, Order(variant));

    /// <summary>Processor time per call, in nanoseconds; of all threads where others take part.</summary>
    public double[] ProcessorTimes(int variant, int input)
    {
        var times = Times(variant, input);
        var shares = Series(variant, input, (sitting, cell) =>
            sitting.Signals[cell].ProcessorNanosecondsPerCall / sitting.Signals[cell].ElapsedNanosecondsPerCall);
        return [.. times.Select((time, sitting) => time * shares[sitting] / (Record.Study.Variants[variant].Loop.Threads ?? 1))];
    }

    /// <summary>Time per call, with its interval.</summary>
    public Interval Time(int variant, int input, CallOrder order) => SampleStatistics.MeanInterval(Times(variant, input, order), Level);

    /// <summary>Whether its time is below what the clock and the loop can tell from nothing.</summary>
    public bool IsBelow(int row, int input) => SampleStatistics.Mean(Times(row, input)) <= Record.Study.Variants[row].Loop.FloorNanoseconds();

    /// <summary>Log of a row's time over another's; not known where both are below what can be told from nothing.</summary>
    /// <remarks>Each is paired in every round with the row that all of their kind are paired with.</remarks>
    public double[] LogRatios(int row, int other, int input)
    {
        var (anchor, others) = (Anchor(row, input), Anchor(other, input));
        if (row != other && IsBelow(row, input) && IsBelow(other, input))
        {
            return [.. Enumerable.Repeat(double.NaN, Sittings)];
        }

        if (other == anchor || anchor != others)
        {
            return other == anchor ? Levels(row, anchor, input) : Paired(CellKind.Variant, row, other, input);
        }

        return Difference(Levels(row, anchor, input), Levels(other, anchor, input));
    }

    /// <summary>One series less another.</summary>
    public static double[] Difference(double[] from, double[] taken) => [.. from.Select((value, sitting) => value - taken[sitting])];

    /// <summary>Log of a row's time over its own on another target, paired in every round.</summary>
    public double[] LogRatiosOverTarget(int row, int input, int other)
        => Series(CellKind.Variant, row, input, Order(row), (sitting, cell) => sitting.Find(CellKind.Variant, row, input, Order(row), other) is { } reference
            ? sitting.MedianLogRatio(cell, reference)
            : double.NaN);

    /// <summary>Log of the time of a baseline's twin over its own, paired in every round.</summary>
    public double[] TwinLogRatios(int baseline, int input) => Paired(CellKind.Twin, baseline, baseline, input);

    /// <summary>Time of a row as a multiple of another's.</summary>
    public Interval TimeRatio(int row, int other, int input, double intervalLevel)
        => SampleStatistics.MeanInterval(LogRatios(row, other, input), intervalLevel).Through(Math.Exp);

    /// <summary>What a figure of two rows comes to, one value for each sitting that has both; the row compared may be the twin.</summary>
    public T[] PerSitting<T>(CellKind kind, int variant, int reference, int input, Func<SittingFigures, int, int, T> figure)
        => [.. PerSitting(kind, variant, input, Order(variant), (sitting, cell) => (Sitting: sitting, Cell: cell, Other: sitting.Find(CellKind.Variant, reference, input, Order(reference), Target)))
            .Where(pair => pair.Other is not null)
            .Select(pair => figure(pair.Sitting, pair.Cell, pair.Other!.Value))];

    /// <summary>What a figure of one row comes to, one value for each sitting that has it.</summary>
    public T[] PerSitting<T>(int variant, int input, Func<SittingFigures, int, T> figure)
        => [.. PerSitting(CellKind.Variant, variant, input, Order(variant), figure)];

    /// <summary>What a figure of one row comes to, as a series.</summary>
    public double[] Series(int variant, int input, Func<SittingFigures, int, double> figure)
        => Series(CellKind.Variant, variant, input, Order(variant), figure);

    public SignalCount Signals(int variant, int input)
        => SignalCount.Sum(PerSitting(CellKind.Variant, variant, input, Order(variant), (sitting, cell) => sitting.Signals[cell]));

    /// <summary>How the row became ready, once a sitting.</summary>
    public IEnumerable<WarmUp> WarmUps(int variant, int input)
        => sittings.Select(sitting => (sitting.Record, Cell: sitting.Find(CellKind.Variant, variant, input, Order(variant), Target)))
            .Where(sitting => sitting.Cell is not null)
            .SelectMany(sitting => sitting.Record.WarmUps.Where(warm => warm.Cell == sitting.Cell));

    /// <summary>Share of the row's time in each of its stages, as series; the cost of the marks is taken out.</summary>
    public IReadOnlyList<StageSeries> Stages(int variant, int input) => StageSeries.Of(
        [.. sittings.Select(sitting => sitting.Find(CellKind.Variant, variant, input, Order(variant), Target) is { } cell
            ? (sitting.Record.StageCosts.FirstOrDefault(cost => cost.Worker == sitting.Record.Cells[cell].Worker),
                sitting.Record.StageReadings.Where(reading => reading.Cell == cell).ToList())
            : ((StageCost?)null, new List<StageReading>()))]);

    public CallOrder Order(int variant) => Record.Study.Variants[variant].Loop.Order;

    /// <summary>The row that all rows of one kind are paired with: their baseline, or the first that has figures.</summary>
    private int Anchor(int row, int input)
    {
        var variants = Record.Study.Variants;
        if (Record.Study.Reference(row) is { } reference && !_failed.Contains((reference, input)))
        {
            return reference;
        }

        return Enumerable.Range(0, variants.Count).FirstOrDefault(
            other => !_failed.Contains((other, input)) && variants[other].Loop.Threads == variants[row].Loop.Threads
                && (variants[other].Part == VariantPart.Prepare) == (variants[row].Part == VariantPart.Prepare),
            row);
    }

    private double[] Levels(int row, int anchor, int input) => Kept(_levels, (row, input), () => Paired(CellKind.Variant, row, anchor, input));

    private double[] Paired(CellKind kind, int row, int other, int input)
        => Series(kind, row, input, Order(row), (sitting, cell) => sitting.Find(CellKind.Variant, other, input, Order(other), Target) is not { } reference ? double.NaN
            : cell == reference ? 0
            : sitting.MedianLogRatio(cell, reference));

    private double[] Series(CellKind kind, int variant, int input, CallOrder order, Func<SittingFigures, int, double> figure)
        => [.. sittings.Select(sitting => sitting.Find(kind, variant, input, order, Target) is { } cell ? figure(sitting, cell) : double.NaN)];

    private static double[] Kept<TKey>(Dictionary<TKey, double[]> kept, TKey key, Func<double[]> find)
        where TKey : notnull
        => kept.TryGetValue(key, out var found) ? found : kept[key] = find();

    private IEnumerable<T> PerSitting<T>(CellKind kind, int variant, int input, CallOrder order, Func<SittingFigures, int, T> select)
        => sittings
            .Select(sitting => (Sitting: sitting, Cell: sitting.Find(kind, variant, input, order, Target)))
            .Where(pair => pair.Cell is not null)
            .Select(pair => select(pair.Sitting, pair.Cell!.Value));
}
