using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Rankings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Findings;

/// <summary>Finds every figure of one row on one input.</summary>
internal sealed class CellExaminer(Pairing pairing, int variant, int input, MachineLimits? limits)
{
    private const double NanosecondsPerSecond = 1e9;

    private readonly SittingsView _view = pairing.View;
    private readonly VariantDescription _row = pairing.View.Record.Study.Variants[variant];
    private readonly InputDescription _input = pairing.View.Record.Study.Inputs[input];

    public CellFindings Examine(Contrast? contrast, Place? place)
    {
        if (_view.Failure(variant, input) is { } failure)
        {
            return new CellFindings
            {
                Variant = _row, Row = variant, Failure = failure,
                NanosecondsPerCall = Interval.Unknown(_view.Level), Signals = new SignalCount(),
            };
        }

        var time = _view.Time(variant, input);
        var signals = _view.Signals(variant, input);
        var warmUps = _view.WarmUps(variant, input).ToList();
        var diagnosis = _view.Record.Diagnoses.FirstOrDefault(diagnosis => diagnosis.Variant == variant && diagnosis.Input == input);
        return new CellFindings
        {
            Variant = _row,
            Row = variant,
            Place = place,
            NanosecondsPerCall = time,
            Speeds = pairing.Speeds.Of(variant, input),
            SpeedCause = pairing.Speeds.Cause(variant, input),
            IsInlined = Inlined(warmUps),
            Placements = pairing.Speeds.Placements(variant, input),
            OverlappedNanosecondsPerCall = Overlapped(),
            PaidNanosecondsPerCall = _view.IsAnyPaused(variant, input) ? _view.PaidTime(variant, input) : null,
            CalledNanosecondsPerCall = Called(),
            Cold = [.. Cold()],
            IsOfSharedCore = _view.IsOfSharedCore(variant, input),
            SharedTimeRatio = SampleStatistics.MeanInterval(_view.SharedRatios(variant, input), _view.Level) is { IsBounded: true } shared
                ? shared.Through(Math.Exp)
                : null,
            Spread = Spread(),
            Loop = _view.Loop(variant, input),
            ProcessorNanosecondsPerCall = !time.IsMeasured
                ? double.NaN
                : time.Estimate * signals.ProcessorNanosecondsPerCall / signals.ElapsedNanosecondsPerCall / (_row.Loop.Threads ?? 1),
            AllocatedBytesPerCall = _row.Guest is { IsAllocationTold: false } ? double.NaN
                : signals.AllocatedBytesPerCall / (_row.Loop.Threads ?? 1),
            PeakMemoryBytes = warmUps.Exists(warm => warm.PeakMemoryBytes is not null)
                ? SampleStatistics.Median([.. warmUps.Select(warm => (double?)warm.PeakMemoryBytes ?? double.NaN)])
                : null,
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
            Counters = diagnosis?.Counters is { Absence: null } counters ? counters : null,
            WeightedNanosecondsPerCall = Weighted(),
        };
    }

    private Spread Spread()
        => _view.Record.Study.Reference(variant) is { } reference && reference != variant
            ? SpreadLevels.Of(_view.PerSitting(
                CellKind.Variant, variant, reference, input, (sitting, cell, other) => Rounds(sitting.LogsByCopy(cell, other))))
            : SpreadLevels.Of(_view.PerSitting(variant, input, (sitting, cell) => Rounds(sitting.LogsByCopy(cell, null))));

    // The same in all processes, or nothing that can be said in a word.
    private static bool? Inlined(List<WarmUp> warmUps)
        => warmUps.Select(warm => warm.Code?.IsInlined).Distinct().ToList() is [var inlined] ? inlined : null;

    private static IReadOnlyList<double[]> Rounds(IReadOnlyList<(int Copy, double[] Logs)> copies) => [.. copies.Select(copy => copy.Logs)];

    private Interval? Overlapped()
    {
        var time = _view.Time(variant, input, new LoopWay(CallOrder.Overlapped));
        return _row.Loop.Order == CallOrder.Overlapped || !time.IsKnown ? null : time;
    }

    private Interval? Called()
        => _view.Time(variant, input, _view.Way(variant) with { IsCalled = true }) is { IsKnown: true } time ? time : null;

    private IEnumerable<ColdFindings> Cold()
    {
        foreach (var bytes in _view.EmptiedBytes)
        {
            LoopWay Emptied(int row) => _view.Way(row) with { EmptiedBytes = bytes };
            var time = _view.Time(variant, input, Emptied(variant));
            if (time.IsKnown)
            {
                var other = _view.Record.Study.Reference(variant) is { } reference && reference != variant ? reference : (int?)null;
                yield return new ColdFindings(bytes, time, other is { } baseline && time.IsMeasured
                    ? SampleStatistics.MeanInterval(
                        Pairing.Difference(Logs(variant, Emptied(variant)), Logs(baseline, Emptied(baseline))),
                            _view.Level).Through(Math.Exp)
                    : null);
            }
        }

        double[] Logs(int row, LoopWay way) => [.. _view.Times(row, input, way).Select(time => Math.Log(time))];
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
            Seen = signals.Collections.Sum(),
            PauseNanosecondsPerCall = signals.PauseNanoseconds / calls,
            HeldShare = asked == 0 ? null : (double)signals.Held / asked,
        };
    }

    private IEnumerable<StageFindings> Stages(Interval time)
        => _view.Stages(variant, input).Select(stage => (Stage: stage, Share: SampleStatistics.MeanInterval(stage.Shares, _view.Level)))
            .Select(stage => new StageFindings
            {
                Stage = stage.Stage.Stage,
                CountPerCall = stage.Stage.CountPerCall,
                Share = stage.Share.Through(AtLeastNone),
                NanosecondsPerCall = stage.Share.Through(AtLeastNone).Through(value => value * time.Estimate) with { Bound = time.Bound },
            });

    // What marks cost is taken out, which may leave less than nothing of a short stage.
    private static double AtLeastNone(double share) => Math.Max(0, share);

    private ThreadFindings? Threads(Interval time)
    {
        if (_row.Loop.Threads is not { } threads)
        {
            return null;
        }

        var single = Enumerable.Range(0, _view.Record.Study.Variants.Count).Cast<int?>().FirstOrDefault(index =>
            _view.Record.Study.Variants[index!.Value] is { Loop.Threads: 1 } other
            && other.Variant == _row.Variant && other.Part == _row.Part && other.Settings.SequenceEqual(_row.Settings));
        return new ThreadFindings
        {
            Threads = threads,
            CallsPerSecond = time.Dividing(threads * NanosecondsPerSecond),
            // The time of one call against that on one thread: the more it grows, the less the others are worth.
            SpeedUp = single is { } one && _view.Failure(one, input) is null
                ? pairing.Ratio(variant, one, input).At(_view.Level).Dividing(threads)
                : null,
        };
    }

    private IEnumerable<RateFindings> Rates(Interval time)
    {
        var perSecond = time.Dividing(NanosecondsPerSecond * (_row.Loop.Threads ?? 1));
        Interval Times(double count) => perSecond.Through(value => value * count);
        // What one processor can do says nothing of several.
        var known = _row.Loop.Threads is null ? limits : null;
        if (_input.Work?.Items is { } items)
        {
            yield return new RateFindings { Quantity = "items", PerSecond = Times(items) };
        }

        if (_input.Work?.Bytes is { } bytes)
        {
            var level = known?.Memory.FirstOrDefault(level => level.SizeBytes is not { } size || size >= bytes);
            yield return new RateFindings
            {
                Quantity = "bytes",
                PerSecond = Times(bytes),
                LimitShare = level is null ? null : Times(bytes / level.BytesPerSecond),
                Limit = level?.Level,
            };
        }

        if (_input.Work?.Operations is { } operations)
        {
            yield return new RateFindings
            {
                Quantity = "operations",
                PerSecond = Times(operations),
                LimitShare = known is null ? null : Times(operations / known.OperationsPerSecond),
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

        var inputs = _view.Record.Study.Inputs;
        var kinds = Enumerable.Range(0, inputs.Count).Where(kind => inputs[kind].Weight is not null).ToList();
        var sum = kinds.Sum(kind => inputs[kind].Weight!.Value);
        var times = kinds.ConvertAll(kind => _view.Time(variant, kind));
        // Of what is only known to be at most so much, no sum is known either.
        return !times.TrueForAll(time => time.IsMeasured) ? null
            : kinds.Select((kind, index) => inputs[kind].Weight!.Value / sum * times[index].Estimate).Sum();
    }
}
