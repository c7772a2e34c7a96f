using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>A study's sittings side by side: one value per sitting, and the interval over them.</summary>
internal sealed class StudyView(
    StudyRecord record, IReadOnlyList<SittingFigures> sittings, double referenceBeat, double level, double marginShare)
{
    public StudyRecord Record { get; } = record;

    public double Level { get; } = level;

    /// <summary>Time of one link of the metronome that times are stated at, in nanoseconds.</summary>
    public double ReferenceBeat { get; } = referenceBeat;

    public double MarginShare { get; } = marginShare;

    public CellFailure? Failure(int variant, int input)
        => Record.Failures.FirstOrDefault(failure => failure.Variant == variant && failure.Input == input);

    /// <summary>Time per call, one value a sitting, in the order of calls asked for.</summary>
    public Interval Time(int variant, int input, CallOrder order)
        => SampleStatistics.MeanInterval(
            [.. PerSitting(CellKind.Variant, variant, input, order, (sitting, cell) => sitting.MedianTime(cell, ReferenceBeat))], Level);

    /// <summary>Time of a row as a multiple of another's, paired in every round.</summary>
    public Interval TimeRatio(CellKind kind, int variant, int reference, int input, double intervalLevel)
        => SampleStatistics.MeanInterval(
            PerSitting(kind, variant, reference, input, (sitting, cell, other) => sitting.MedianLogRatio(cell, other)), intervalLevel).Through(Math.Exp);

    /// <summary>What a figure of two rows comes to, one value a sitting; the row compared may be the twin.</summary>
    public T[] PerSitting<T>(CellKind kind, int variant, int reference, int input, Func<SittingFigures, int, int, T> figure)
        => [.. PerSitting(kind, variant, input, Order(variant), (sitting, cell) => (Sitting: sitting, Cell: cell, Other: sitting.Find(CellKind.Variant, reference, input, Order(reference))))
            .Where(pair => pair.Other is not null)
            .Select(pair => figure(pair.Sitting, pair.Cell, pair.Other!.Value))];

    /// <summary>What a figure of one row comes to, one value a sitting.</summary>
    public T[] PerSitting<T>(int variant, int input, Func<SittingFigures, int, T> figure)
        => [.. PerSitting(CellKind.Variant, variant, input, Order(variant), figure)];

    public SignalCount Signals(int variant, int input)
        => SignalCount.Sum(PerSitting(CellKind.Variant, variant, input, Order(variant), (sitting, cell) => sitting.Signals[cell]));

    /// <summary>How the row became ready, once a sitting.</summary>
    public IEnumerable<WarmUp> WarmUps(int variant, int input)
        => Record.Sittings.Where(sitting => !sitting.IsApart).SelectMany(sitting => sitting.WarmUps.Where(warm => IsCell(sitting.Cells[warm.Cell], variant, input)));

    /// <summary>The row's readings with stages marked, one list a sitting.</summary>
    public IEnumerable<(StageCost Cost, IReadOnlyList<StageReading> Readings)> StageReadings(int variant, int input)
        => Record.Sittings
            .Where(sitting => sitting.StageCost is not null && !sitting.IsApart)
            .Select(sitting => (
                sitting.StageCost!,
                (IReadOnlyList<StageReading>)[.. sitting.StageReadings.Where(reading => IsCell(sitting.Cells[reading.Cell], variant, input))]))
            .Where(sitting => sitting.Item2.Count > 0);

    public CallOrder Order(int variant) => Record.Study.Variants[variant].Loop.Order;

    private bool IsCell(CellDescription cell, int variant, int input)
        => cell.Kind == CellKind.Variant && cell.Variant == variant && cell.Input == input && cell.Loop.Order == Order(variant);

    private IEnumerable<T> PerSitting<T>(CellKind kind, int variant, int input, CallOrder order, Func<SittingFigures, int, T> select)
        => sittings
            .Select(sitting => (Sitting: sitting, Cell: sitting.Find(kind, variant, input, order)))
            .Where(pair => pair.Cell is not null)
            .Select(pair => select(pair.Sitting, pair.Cell!.Value));
}
