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

    public double MarginShare { get; } = marginShare;

    public CellFailure? Failure(int variant, int input)
        => Record.Failures.FirstOrDefault(failure => failure.Variant == variant && failure.Input == input);

    public Interval Time(int variant, int input)
    {
        var times = PerSitting(CellKind.Variant, variant, input, (sitting, cell) => sitting.MedianTime(cell, referenceBeat));
        return SampleStatistics.MeanInterval([.. times], Level);
    }

    public Interval TimeRatio(CellKind kind, int variant, int baseline, int input, double intervalLevel)
    {
        var ratios = PerSitting(kind, variant, input, (sitting, cell) =>
            sitting.Find(CellKind.Variant, baseline, input) is { } reference ? sitting.MedianLogRatio(cell, reference) : double.NaN);
        return SampleStatistics.MeanInterval([.. ratios], intervalLevel).Through(Math.Exp);
    }

    public IEnumerable<SignalCount> Signals(int variant, int input)
        => PerSitting(CellKind.Variant, variant, input, (sitting, cell) => sitting.Signals[cell]);

    public int SettledSittings(int variant, int input)
        => Record.Sittings.Count(sitting => sitting.WarmUps.Any(warm => warm.IsSettled
            && sitting.Cells[warm.Cell] is { Kind: CellKind.Variant } cell && cell.Variant == variant && cell.Input == input));

    private IEnumerable<T> PerSitting<T>(CellKind kind, int variant, int input, Func<SittingFigures, int, T> select)
        => sittings
            .Select(sitting => (Sitting: sitting, Cell: sitting.Find(kind, variant, input)))
            .Where(pair => pair.Cell is not null)
            .Select(pair => select(pair.Sitting, pair.Cell!.Value));
}
