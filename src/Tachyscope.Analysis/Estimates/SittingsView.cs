using Tachyscope.Analysis.Stages;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Estimates;

/// <summary>A study's sittings side by side: one value per sitting, and the interval over them.</summary>
/// <remarks>A series holds one value for each sitting, in their order; NaN where a cell has none.</remarks>
internal sealed class SittingsView(
    StudyRecord record, IReadOnlyList<SittingFigures> sittings, double referenceBeat, double level, double marginShare, int target = 0)
{
    private readonly Dictionary<(int Row, int Input, LoopWay Way, int Target), double[]> _times = [];
    private readonly Dictionary<(int Row, int Input, LoopWay Way, int Target), double?> _atMost = [];
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

    public LoopWay Way(int variant) => LoopWay.Of(Record.Study.Variants[variant].Loop);

    /// <summary>Sizes of the caches that were emptied before calls in further loops, the smallest first.</summary>
    public IReadOnlyList<long> EmptiedBytes { get; } = [.. sittings.SelectMany(sitting => sitting.Record.Cells)
        .Select(cell => cell.Loop.EmptiedBytes).OfType<long>().Distinct().Order()];

    /// <summary>Time per call in one of its loops, in nanoseconds.</summary>
    public double[] Times(int variant, int input, LoopWay way) => Times(variant, input, way, Target);

    /// <summary>Time per call in the order of calls the row is shown with, in nanoseconds.</summary>
    public double[] Times(int variant, int input) => Times(variant, input, Way(variant), Target);

    /// <summary>The same with collections paid.</summary>
    public double[] PaidTimes(int variant, int input)
        => [.. Times(variant, input).Zip(
            Series(variant, input, (sitting, cell) => sitting.PaidTime(cell, ReferenceBeat) - sitting.MiddleTime(cell, ReferenceBeat)),
            (time, paid) => time + paid)];

    /// <summary>Processor time per call, in nanoseconds; of all threads where others take part.</summary>
    public double[] ProcessorTimes(int variant, int input)
    {
        var times = Times(variant, input);
        var shares = Series(variant, input, (sitting, cell) =>
            sitting.Signals[cell].ProcessorNanosecondsPerCall / sitting.Signals[cell].ElapsedNanosecondsPerCall);
        return [.. times.Select((time, sitting) => time * shares[sitting] / (Record.Study.Variants[variant].Loop.Threads ?? 1))];
    }

    /// <summary>Time per call: with its interval where it was measured, else at most so much.</summary>
    public Interval Time(int variant, int input, LoopWay way)
        => Limited(SampleStatistics.MeanInterval(Times(variant, input, way, Target), Level), AtMost(variant, input, way, Target));

    /// <summary>Time per call in the order of calls the row is shown with.</summary>
    public Interval Time(int variant, int input) => Time(variant, input, Way(variant));

    /// <summary>The same with collections paid.</summary>
    public Interval PaidTime(int variant, int input)
        => Limited(SampleStatistics.MeanInterval(PaidTimes(variant, input), Level), AtMost(variant, input));

    /// <summary>Whether the collector paused the process in any of its readings.</summary>
    public bool IsAnyPaused(int variant, int input)
        => PerSitting(variant, input, (sitting, cell) => sitting.Signals[cell].PauseNanoseconds > 0).Contains(true);

    /// <summary>What a row takes at most, in nanoseconds, where its loop may leave as much; null where its time was measured.</summary>
    public double? AtMost(int variant, int input) => AtMost(variant, input, Way(variant), Target);

    /// <summary>The same on another target.</summary>
    public double? AtMost(int variant, int input, int onTarget) => AtMost(variant, input, Way(variant), onTarget);

    /// <summary>The loop a row was measured in; as it is declared where it was not.</summary>
    public LoopShape Loop(int variant, int input) => Loop(variant, input, Way(variant), Target) ?? Record.Study.Variants[variant].Loop;

    /// <summary>What a figure of two rows comes to, one value for each sitting that has both; the row compared may be the twin.</summary>
    public T[] PerSitting<T>(CellKind kind, int variant, int reference, int input, Func<SittingFigures, int, int, T> figure)
        => [.. Found(kind, variant, input, Way(variant), Target)
            .Select(found => (found.Sitting, found.Cell,
                Other: found.Sitting.Taken.Find(CellKind.Variant, reference, input, Way(reference), Target)))
            .Where(found => found.Cell is not null && found.Other is not null)
            .Select(found => figure(found.Sitting, found.Cell!.Value, found.Other!.Value))];

    /// <summary>What a figure of one row comes to, one value for each sitting that has it.</summary>
    public T[] PerSitting<T>(int variant, int input, Func<SittingFigures, int, T> figure)
        => [.. Found(CellKind.Variant, variant, input, Way(variant), Target)
            .Where(found => found.Cell is not null).Select(found => figure(found.Sitting, found.Cell!.Value))];

    /// <summary>What a figure of one row comes to, as a series.</summary>
    public double[] Series(int variant, int input, Func<SittingFigures, int, double> figure)
        => Series(CellKind.Variant, variant, input, Way(variant), Target, figure);

    /// <summary>What a figure of two cells comes to, as a series.</summary>
    /// <param name="kind">Kind of the first; the second is a variant.</param>
    /// <param name="row">Row of the first.</param>
    /// <param name="other">Row of the second.</param>
    /// <param name="input">Input of both.</param>
    /// <param name="otherTarget">Target of the second.</param>
    /// <param name="figure">The figure.</param>
    public double[] Series(CellKind kind, int row, int other, int input, int otherTarget, Func<SittingFigures, int, int, double> figure)
        => Series(kind, row, input, Way(row), Target, (sitting, cell) =>
            sitting.Taken.Find(CellKind.Variant, other, input, Way(other), otherTarget) is { } reference
                ? figure(sitting, cell, reference)
                : double.NaN);

    /// <summary>Logarithms of the ratio of two cells, as a series.</summary>
    /// <param name="kind">Kind of the first; the second is a variant.</param>
    /// <param name="row">Row of the first.</param>
    /// <param name="other">Row of the second.</param>
    /// <param name="input">Input of both.</param>
    /// <param name="otherTarget">Target of the second.</param>
    /// <param name="atMost">What the first takes at most, in nanoseconds, where that is all that is known.</param>
    /// <param name="otherAtMost">The same of the second.</param>
    public double[] LogRatios(
        CellKind kind, int row, int other, int input, int otherTarget, double? atMost = null, double? otherAtMost = null)
    {
        if ((atMost ?? otherAtMost) is not null)
        {
            return Series(kind, row, other, input, otherTarget, LogRatio);
        }

        var areBuilds = (kind, row) == (CellKind.Variant, other) && otherTarget != Target;
        return CoreReadings.Of(
            Found(kind, row, input, Way(row), Target), Found(CellKind.Variant, other, input, Way(other), otherTarget), areBuilds).Values(
            (sitting, cell, reference) => LogRatio(sitting, cell, reference!.Value), ofLog: null);

        double LogRatio(SittingFigures sitting, int cell, int reference)
            => cell == reference ? 0 : sitting.MiddleLogRatio(cell, reference, atMost, otherAtMost);
    }

    /// <summary>
    /// Whether nothing tells what a row takes beside a quiet core, although something tells it of others in its study.
    /// </summary>
    public bool IsOfSharedCore(int variant, int input) => !OfCore(variant, input, Way(variant), Target).AreKnown;

    /// <summary>Whether all of a row's rounds count, brought to a quiet core by how much of it was shared.</summary>
    public bool IsAdjusted(int variant, int input) => OfCore(variant, input, Way(variant), Target).AreAdjusted;

    /// <summary>Whether that is so of any row on any input.</summary>
    public bool IsAnyAdjusted => Enumerable.Range(0, Record.Study.Inputs.Count).Any(input
        => Enumerable.Range(0, Record.Study.Variants.Count).Any(variant => IsAdjusted(variant, input)));

    /// <summary>Whether a row has, in some sitting, too little of what was read beside a quiet core.</summary>
    public bool IsSharedAtTimes(int variant, int input) => OfCore(variant, input, Way(variant), Target).AreShared;

    /// <summary>How many times as long a row takes while the core is shared, as a series.</summary>
    public double[] SharedRatios(int variant, int input)
        => Series(variant, input, (sitting, cell) => sitting.State != CoreState.Quiet || !sitting.IsJudgedByCore(cell) ? double.NaN
            : Math.Log(
                SittingFigures.Of(sitting.Record, CoreState.Shared)
                    .MiddleTime(cell, ReferenceBeat) / sitting.MiddleTime(cell, ReferenceBeat)));

    public SignalCount Signals(int variant, int input)
        => SignalCount.Sum(PerSitting(variant, input, (sitting, cell) => sitting.Signals[cell]));

    /// <summary>How the row became ready, once a sitting.</summary>
    public IEnumerable<WarmUp> WarmUps(int variant, int input)
        => PerSitting(variant, input, (sitting, cell) => sitting.Record.WarmUps.Where(warm => warm.Cell == cell)).SelectMany(warm => warm);

    /// <summary>Share of the row's time in each of its stages, as series; the cost of the marks is taken out.</summary>
    public IReadOnlyList<StageSeries> Stages(int variant, int input) => StageSeries.Of(
        [.. Found(CellKind.Variant, variant, input, Way(variant), Target).Select(found => found.Cell is { } cell
            ? (found.Sitting.Record.StageCosts.FirstOrDefault(cost => cost.Worker == found.Sitting.Record.Cells[cell].Worker),
                found.Sitting.Record.StageReadings.Where(reading => reading.Cell == cell).ToList())
            : ((StageCost?)null, new List<StageReading>()))]);

    /// <summary>The row's cell in each sitting, with the sitting's index; null where it has none.</summary>
    public IEnumerable<(int Index, SittingFigures Sitting, int? Cell)> Cells(CellKind kind, int variant, int input)
        => Found(kind, variant, input, Way(variant), Target).Select((found, index) => (index, found.Sitting, found.Cell));

    /// <summary>What was heard of the code of a row in one copy of a sitting; null where nothing was.</summary>
    public CellCode? Code(int sitting, int copy, int variant, int input)
    {
        var record = sittings[sitting].Record;
        return record.WarmUps.FirstOrDefault(warm => record.Cells[warm.Cell] is { Kind: CellKind.Variant } cell
            && (cell.Variant, cell.Input, cell.Target, cell.Copy, LoopWay.Of(cell.Loop)) == (variant, input, Target, copy,
                Way(variant)))?.Code;
    }

    private static Interval Limited(Interval time, double? atMost)
        => atMost is not { } most ? time
            : new Interval(most, 0, Math.Max(most, double.IsFinite(time.Upper) ? time.Upper : most), time.Level) { Bound = Bound.AtMost };

    private double[] Times(int variant, int input, LoopWay way, int onTarget)
        => _times.TryGetValue((variant, input, way, onTarget), out var found) ? found
            : _times[(variant, input, way, onTarget)] =
                OfCore(variant, input, way, onTarget).Values(
                    (sitting, cell, _) => sitting.MiddleTime(cell, ReferenceBeat), log => Math.Exp(log) * ReferenceBeat);

    private CoreReadings OfCore(int variant, int input, LoopWay way, int onTarget)
        => CoreReadings.Of(Found(CellKind.Variant, variant, input, way, onTarget));

    private double? AtMost(int variant, int input, LoopWay way, int onTarget)
        => _atMost.TryGetValue((variant, input, way, onTarget), out var found) ? found
            : _atMost[(variant, input, way, onTarget)] = Loop(variant, input, way, onTarget)?.ResidueNanoseconds() is { } residue
                && SampleStatistics.Mean(Times(variant, input, way, onTarget)) <= residue ? residue : null;

    private LoopShape? Loop(int variant, int input, LoopWay way, int onTarget)
        => Found(CellKind.Variant, variant, input, way, onTarget).Where(found => found.Cell is not null)
            .Select(found => found.Sitting.Record.Cells[found.Cell!.Value].Loop).MaxBy(loop => loop.ResidueNanoseconds());

    private double[] Series(CellKind kind, int variant, int input, LoopWay way, int onTarget, Func<SittingFigures, int, double> figure)
        => [.. Found(kind, variant, input, way, onTarget)
            .Select(found => found.Cell is { } cell ? figure(found.Sitting, cell) : double.NaN)];

    private IEnumerable<(SittingFigures Sitting, int? Cell)> Found(CellKind kind, int variant, int input, LoopWay way, int onTarget)
        => sittings.Select(sitting => (sitting, sitting.Taken.Find(kind, variant, input, way, onTarget)));
}
