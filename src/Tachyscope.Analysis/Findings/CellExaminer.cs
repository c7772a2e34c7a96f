using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>Finds every figure of one row on one input.</summary>
internal sealed class CellExaminer(StudyView view, int variant, int input, MachineLimits? limits)
{
    private const double NanosecondsPerSecond = 1e9;

    private readonly VariantDescription _row = view.Record.Study.Variants[variant];
    private readonly InputDescription _input = view.Record.Study.Inputs[input];

    public CellFindings Examine(Contrast? contrast, Place? place)
    {
        if (view.Failure(variant, input) is { } failure)
        {
            return new CellFindings { Variant = _row, Row = variant, Failure = failure, NanosecondsPerCall = Interval.Unknown(view.Level), Signals = new SignalCount() };
        }

        var time = view.Time(variant, input, _row.Loop.Order);
        var signals = view.Signals(variant, input);
        var warmUps = view.WarmUps(variant, input).ToList();
        var diagnosis = view.Record.Diagnoses.FirstOrDefault(diagnosis => diagnosis.Variant == variant && diagnosis.Input == input);
        var loop = _row.Loop with { Supply = _input.IsMix || view.Record.Study.IsInputChanged ? InputSupply.Each : InputSupply.Same };
        return new CellFindings
        {
            Variant = _row,
            Row = variant,
            Place = place,
            NanosecondsPerCall = time,
            OverlappedNanosecondsPerCall = Overlapped(),
            Loop = loop,
            IsResolved = !time.IsKnown || time.Estimate > loop.FloorNanoseconds(),
            ProcessorNanosecondsPerCall = time.Estimate * signals.ProcessorNanosecondsPerCall / signals.ElapsedNanosecondsPerCall / (_row.Loop.Threads ?? 1),
            AllocatedBytesPerCall = signals.AllocatedBytesPerCall / (_row.Loop.Threads ?? 1),
            ExceptionsPerCall = SampleStatistics.Mean([.. warmUps.Select(warm => warm.ExceptionsPerCall)]),
            ReadsAndWritesPerCall = SampleStatistics.Median([.. warmUps.Select(warm => warm.ReadsAndWritesPerCall ?? double.NaN)]),
            OtherThreadsShare = SampleStatistics.Median([.. warmUps.Select(warm => warm.OtherThreadsShare ?? 0)]) is > 0 and var others
                ? others
                : null,
            LockContentionsPerCall = (double)signals.LockContentions / signals.Calls / (_row.Loop.Threads ?? 1),
            Contrast = contrast,
            Signals = signals,
            SettledSittings = warmUps.Count(warm => warm.IsSettled),
            WarmUp = warmUps.Count == 0 ? null : WarmUp(warmUps, diagnosis),
            Collections = signals.Readings == 0 ? null : Collections(signals),
            Stages = [.. Stages(time)],
            Threads = Threads(time),
            Rates = [.. Rates(time)],
            AllocatedTypes = diagnosis?.AllocatedTypes ?? [],
            RetainedBytes = diagnosis?.RetainedBytes,
            WeightedNanosecondsPerCall = Weighted(),
        };
    }

    private Interval? Overlapped()
    {
        var time = view.Time(variant, input, CallOrder.Overlapped);
        return _row.Loop.Order == CallOrder.Overlapped || !time.IsKnown ? null : time;
    }

    private static WarmUpFindings WarmUp(List<WarmUp> warmUps, CellDiagnosis? diagnosis) => new()
    {
        ColdCallNanoseconds = SampleStatistics.Median([.. diagnosis?.FirstCallNanoseconds.Select(call => (double)call) ?? []]),
        FirstCallNanoseconds = SampleStatistics.Median([.. warmUps.Select(warm => (double)warm.FirstCallNanoseconds)]),
        CallsUntilFast = SampleStatistics.Median([.. warmUps.Select(warm => (double)warm.CallsUntilFast)]),
        MillisecondsUntilFast = SampleStatistics.Median([.. warmUps.Select(warm => warm.MillisecondsUntilFast)]),
        SettledMilliseconds = SampleStatistics.Median([.. warmUps.Select(warm => warm.SettledMilliseconds ?? double.NaN)]),
        LastCompiledMilliseconds = SampleStatistics.Median([.. warmUps.Select(warm => warm.LastCompiledMilliseconds ?? double.NaN)]),
        BytesChangedMilliseconds = SampleStatistics.Median([.. warmUps.Select(warm => warm.BytesChangedMilliseconds ?? double.NaN)]),
        CodeVersions = diagnosis?.CodeVersions ?? [],
        // The first call may allocate what is kept for ever; the second point of the curve comes after it.
        AllocatedBytesPerCallBefore = SampleStatistics.Median(
            [.. warmUps.Where(warm => warm.Curve.Count > 1).Select(warm => warm.Curve[1].AllocatedBytesPerCall)]),
    };

    private CollectionFindings Collections(SignalCount signals)
    {
        var calls = (double)signals.Calls * (_row.Loop.Threads ?? 1);
        var asked = signals.Held + signals.NotHeld;
        return new CollectionFindings
        {
            PerMillionCalls = [.. signals.Collections.Select(count => count / calls * 1e6)],
            PauseNanosecondsPerCall = signals.PauseNanoseconds / calls,
            HeldShare = asked == 0 ? null : (double)signals.Held / asked,
        };
    }

    private IEnumerable<StageFindings> Stages(Interval time)
        => view.Stages(variant, input).Select(stage => (Stage: stage, Share: SampleStatistics.MeanInterval(stage.Shares, view.Level)))
            .Select(stage => new StageFindings
            {
                Stage = stage.Stage.Stage,
                CountPerCall = stage.Stage.CountPerCall,
                Share = stage.Share,
                NanosecondsPerCall = stage.Share.Through(value => value * time.Estimate),
            });

    private ThreadFindings? Threads(Interval time)
    {
        if (_row.Loop.Threads is not { } threads)
        {
            return null;
        }

        var single = Enumerable.Range(0, view.Record.Study.Variants.Count).Cast<int?>().FirstOrDefault(index =>
            view.Record.Study.Variants[index!.Value] is { Loop.Threads: 1 } other
            && other.Variant == _row.Variant && other.Part == _row.Part && other.Settings.SequenceEqual(_row.Settings));
        return new ThreadFindings
        {
            Threads = threads,
            CallsPerSecond = threads * NanosecondsPerSecond / time.Estimate,
            // The time of one call against that on one thread: the more it grows, the less the others are worth.
            SpeedUp = single is { } one && view.Failure(one, input) is null
                ? Inverse(view.TimeRatio(variant, one, input, view.Level), threads)
                : null,
        };
    }

    private static Interval Inverse(Interval ratio, double factor)
        => ratio with { Estimate = factor / ratio.Estimate, Lower = factor / ratio.Upper, Upper = ratio.Lower > 0 ? factor / ratio.Lower : double.PositiveInfinity };

    private IEnumerable<RateFindings> Rates(Interval time)
    {
        var perSecond = NanosecondsPerSecond / time.Estimate * (_row.Loop.Threads ?? 1);
        // What one processor can do says nothing of several.
        var known = _row.Loop.Threads is null ? limits : null;
        if (_input.Work?.Items is { } items)
        {
            yield return new RateFindings { Quantity = "items", PerSecond = items * perSecond };
        }

        if (_input.Work?.Bytes is { } bytes)
        {
            var level = known?.Memory.FirstOrDefault(level => level.SizeBytes is not { } size || size >= bytes);
            yield return new RateFindings
            {
                Quantity = "bytes", PerSecond = bytes * perSecond, LimitShare = bytes * perSecond / level?.BytesPerSecond, Limit = level?.Level,
            };
        }

        if (_input.Work?.Operations is { } operations)
        {
            yield return new RateFindings
            {
                Quantity = "operations",
                PerSecond = operations * perSecond,
                LimitShare = operations * perSecond / known?.OperationsPerSecond,
                Limit = known is null ? null : "arithmetic",
            };
        }
    }

    private double? Weighted()
    {
        if (!_input.IsMix)
        {
            return null;
        }

        var inputs = view.Record.Study.Inputs;
        var kinds = Enumerable.Range(0, inputs.Count).Where(kind => inputs[kind].Weight is not null).ToList();
        var sum = kinds.Sum(kind => inputs[kind].Weight!.Value);
        return kinds.Sum(kind => inputs[kind].Weight!.Value / sum * view.Time(variant, kind, _row.Loop.Order).Estimate);
    }
}
