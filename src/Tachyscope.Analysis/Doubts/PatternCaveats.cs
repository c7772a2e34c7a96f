using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Runs;
using static Tachyscope.Analysis.Doubts.CaveatGround;

namespace Tachyscope.Analysis.Doubts;

/// <summary>What the readings of one cell look like over rounds, places, sittings and sizes, where they should look alike.</summary>
internal static class PatternCaveats
{
    private const int FewestSittings = 5;

    // So strict, since every cell is looked at in several ways.
    private const double StrictLevel = 0.999;
    private const double LeastEffect = 0.03;
    private const double LeastDistance = 0.05;
    private const double LayoutFactor = 3;
    private const double LayoutShare = 0.1;
    private const double VaryingShare = 0.1;
    private const double VaryingBytes = 8;
    private const double FewCollections = 0.05;
    private const double GrowthOfSize = 8;
    private const double GrowthOfTime = 1.05;

    public static IEnumerable<Caveat> Find(CaveatGround ground, InputFindings input, int inputIndex, CellFindings cell)
        => OfRounds(ground, input, inputIndex, cell)
            .Concat(OfSittings(ground, input, inputIndex, cell))
            .Concat(OfReadings(ground, input, inputIndex, cell))
            .Concat(OfSizes(ground, input, inputIndex, cell));

    private static IEnumerable<Caveat> OfRounds(CaveatGround ground, InputFindings input, int inputIndex, CellFindings cell)
    {
        if (ground.Findings.Sittings < FewestSittings || !cell.IsResolved || cell.Signals.IsMostlyWaiting)
        {
            yield break;
        }

        var (row, view) = (ground.IndexOf(cell.Variant), ground.View);
        var drift = Effect(view.PerSitting(row, inputIndex, (sitting, index) => sitting.HasBeats(index) ? Trend.OverRounds(sitting.Times(index, view.ReferenceBeat)) : double.NaN), ground);
        if (drift is { } grown)
        {
            yield return new Caveat
            {
                Name = "drifts",
                Subject = Subject(cell, input),
                Evidence = Text($"its time {(grown > 0 ? "grows" : "falls")} by {Math.Abs(Math.Exp(grown) - 1):P0} from the first third of a sitting's rounds to the last, in sitting after sitting"),
                WayOut = "look for state that grows from call to call, such as a list or a cache; ChangesInput() gives every call an input of its own",
            };
        }

        var place = Effect(view.PerSitting(row, inputIndex, (sitting, index) => sitting.HasBeats(index) ? Trend.OverPlaces(sitting.Times(index, view.ReferenceBeat), sitting.Places(index)) : double.NaN), ground);
        if (place is { } later)
        {
            yield return new Caveat
            {
                Name = "place-matters",
                Subject = Subject(cell, input),
                Evidence = Text($"it takes {Math.Abs(Math.Exp(later) - 1):P0} {(later > 0 ? "longer" : "less")} late in a round than early, although the order is shuffled"),
                WayOut = "another cell leaves something behind that it meets, such as a full heap or an emptied cache; run it with --apart",
            };
        }

        // Against the baseline of the same round, or its twin: what the machine did is in both.
        var reference = ground.Record.Study.Reference(row) ?? row;
        if (Modes.Find(RoundRatios(view, reference == row ? CellKind.Twin : CellKind.Variant, row, reference, inputIndex)) is { } modes && modes.Distance > LeastDistance && !MachineCaveats.MayExplain(ground, modes.Distance))
        {
            yield return new Caveat
            {
                Name = "two-modes",
                Subject = Subject(cell, input),
                Evidence = Text($"its rounds fall into two heaps, {modes.Distance:P0} apart, the slower one holding {modes.UpperShare:P0} of them"),
                WayOut = "its time depends on something that changes from round to round or from process to process, such as where its data lies or how branches are predicted: quote both heaps, not one figure",
            };
        }
    }

    private static double[] RoundRatios(StudyView view, CellKind kind, int row, int reference, int input)
    {
        var pooled = new List<double>();
        view.PerSitting(kind, row, reference, input, (sitting, cell, other) =>
        {
            pooled.AddRange(sitting.LogRatios(cell, other).Where(double.IsFinite));
            return double.NaN;
        });
        return [.. pooled];
    }

    private static double? Effect(double[] perSitting, CaveatGround ground)
    {
        var interval = SampleStatistics.MeanInterval(perSitting, StrictLevel);
        return interval.IsBounded && Math.Abs(interval.Estimate) > Math.Max(LeastEffect, ground.Findings.MarginShare) && (interval.Lower > 0 || interval.Upper < 0)
            ? interval.Estimate
            : null;
    }

    private static IEnumerable<Caveat> OfSittings(CaveatGround ground, InputFindings input, int inputIndex, CellFindings cell)
    {
        if (cell.Contrast is not { } contrast || ground.Findings.Sittings < FewestSittings)
        {
            yield break;
        }

        var row = ground.IndexOf(cell.Variant);
        if (ground.Record.Study.Reference(row) is { } reference)
        {
            var between = SampleStatistics.Deviation(ground.View.PerSitting(CellKind.Variant, row, reference, inputIndex, (sitting, own, other) => sitting.MedianLogRatio(own, other)));
            var within = Math.Sqrt(SampleStatistics.Mean(
                [.. ground.View.PerSitting(CellKind.Variant, row, reference, inputIndex, (sitting, own, other) => Math.Pow(sitting.StandardErrorOfLogRatio(own, other), 2))]));
            // Where the difference is many times as large, it is not in doubt.
            var matters = contrast.TimeRatio.Through(Math.Log).HalfWidth > Math.Max(ground.Findings.MarginShare, LayoutShare * Math.Abs(Math.Log(contrast.TimeRatio.Estimate)));
            if (matters && !MachineCaveats.MayExplain(ground, between) && between > LayoutFactor * within && between > 2 * ground.Findings.MarginShare)
            {
                yield return new Caveat
                {
                    Name = "sittings-disagree",
                    Subject = Subject(cell, input),
                    Evidence = Text($"its ratio to the baseline changes by {between:P1} from one process to the next, and by {within:P1} within one: how its code and data happen to lie in memory decides"),
                    WayOut = "more sittings (--within) narrow the interval; a single process would have shown you one of these results as if it were the truth",
                };
            }
        }

        if (contrast.ApartTimeRatio is { IsBounded: true } apart && contrast.TimeRatio.IsBounded
            && (apart.Lower > contrast.TimeRatio.Upper || apart.Upper < contrast.TimeRatio.Lower)
            && Math.Abs(Math.Log(apart.Estimate / contrast.TimeRatio.Estimate)) > ground.Findings.MarginShare)
        {
            yield return new Caveat
            {
                Name = "differs-apart",
                Subject = Subject(cell, input),
                Evidence = Text($"it takes {contrast.TimeRatio.Estimate:0.00} times the baseline's time beside the other variants and {apart.Estimate:0.00} times in a process of its own: they leave each other types, caches or garbage"),
                WayOut = "believe the figure that is nearer to your program: together if it uses several of them, apart if it uses one",
            };
        }
    }

    private static IEnumerable<Caveat> OfReadings(CaveatGround ground, InputFindings input, int inputIndex, CellFindings cell)
    {
        var row = ground.IndexOf(cell.Variant);
        var readings = ground.Record.Sittings
            .Where(sitting => !sitting.IsApart)
            .Select(sitting => sitting.Readings.Where(reading =>
                sitting.Cells[reading.Cell] is { Kind: CellKind.Variant } own && (own.Variant, own.Input) == (row, inputIndex) && own.Loop.Order == ground.View.Order(row)).ToList())
            .Where(own => own.Count >= FewestSittings)
            .ToList();
        if (readings.Count == 0)
        {
            yield break;
        }

        var varying = readings.Count(own => IsVarying([.. own.Select(reading => (double)reading.AllocatedBytes / reading.Calls)]));
        if (varying * 2 > readings.Count)
        {
            double[] bytes = [.. readings.SelectMany(own => own).Select(reading => (double)reading.AllocatedBytes / reading.Calls)];
            yield return new Caveat
            {
                Name = "allocation-varies",
                Subject = Subject(cell, input),
                Evidence = Text($"it allocates between {SampleStatistics.Quantile(bytes, 0.1):0} and {SampleStatistics.Quantile(bytes, 0.9):0} bytes a call in four readings of five, on the same input"),
                WayOut = "look for a pool, a cache or a random choice; take bytes per call as a mean, not as a fact of every call",
            };
        }

        double[] all = [.. readings.SelectMany(own => own).Select(reading => reading.NanosecondsPerCall)];
        double[] free = [.. readings.SelectMany(own => own).Where(reading => reading.CollectionsGen0 == 0).Select(reading => reading.NanosecondsPerCall)];
        var share = 1 - ((double)free.Length / all.Length);
        if (share is > FewCollections and < 1 - FewCollections && Spread(all) > VaryingShare && Spread(free) < Spread(all) / 2)
        {
            yield return new Caveat
            {
                Name = "collections-spread",
                Subject = Subject(cell, input),
                Evidence = Text($"a collection fell into {share:P0} of its readings: they spread over {Spread(all):P0} with these and {Spread(free):P0} without"),
                WayOut = "run it with --collections held to see the operation without its collections, and count both",
            };
        }
    }

    private static bool IsVarying(double[] bytes)
        => SampleStatistics.Quantile(bytes, 0.9) - SampleStatistics.Quantile(bytes, 0.1) > Math.Max(VaryingBytes, VaryingShare * SampleStatistics.Mean(bytes));

    private static double Spread(double[] times) => (SampleStatistics.Quantile(times, 0.9) - SampleStatistics.Quantile(times, 0.1)) / SampleStatistics.Median(times);

    // Told once, at the largest size.
    private static IEnumerable<Caveat> OfSizes(CaveatGround ground, InputFindings input, int inputIndex, CellFindings cell)
    {
        var inputs = ground.Record.Study.Inputs;
        if (input.Input.Sizes.Count != 1 || cell.Variant.Part != VariantPart.Whole || inputs.Any(other => other.Sizes.Count != 1))
        {
            yield break;
        }

        var smallest = Enumerable.Range(0, inputs.Count).MinBy(index => inputs[index].Sizes[0].Value);
        var largest = Enumerable.Range(0, inputs.Count).MaxBy(index => inputs[index].Sizes[0].Value);
        var growth = (double)inputs[largest].Sizes[0].Value / Math.Max(1, inputs[smallest].Sizes[0].Value);
        if (inputIndex != largest || growth < GrowthOfSize)
        {
            yield break;
        }

        var (row, view) = (ground.IndexOf(cell.Variant), ground.View);
        var grown = view.PerSitting(row, largest, (sitting, own) => sitting.Find(CellKind.Variant, row, smallest, view.Order(row)) is { } small
            ? Math.Log(sitting.MedianTime(own, view.ReferenceBeat) / sitting.MedianTime(small, view.ReferenceBeat))
            : double.NaN);
        var ratio = SampleStatistics.MeanInterval(grown, view.Level).Through(Math.Exp);
        if (ratio.IsBounded && ratio.Upper < GrowthOfTime)
        {
            yield return new Caveat
            {
                Name = "does-not-grow",
                Subject = Subject(cell, input),
                Evidence = Text($"it takes {ratio.Estimate:0.00} times as long on {growth:0} times the size ({input.Input.Sizes[0].Axis})"),
                WayOut = "look whether it reads its input at all; a look-up in what was prepared may be as fast as that, and is better shown with prepare and use",
            };
        }
    }
}
