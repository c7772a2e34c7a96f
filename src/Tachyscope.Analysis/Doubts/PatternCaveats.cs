using Tachyscope.Analysis.Estimates;
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
    private const int FewestReadings = 5;
    private const double VaryingShare = 0.1;
    private const double VaryingBytes = 8;
    private const double FewCollections = 0.05;
    private const double GrowthOfSize = 8;
    private const double GrowthOfTime = 1.05;
    private const double LeastStray = 0.1;

    public static IReadOnlyList<Func<CellGround, Caveat?>> All { get; } =
    [
        Drifts, PlaceMatters, SeveralSpeeds, TwoModes, SittingsDisagree, StrayProcesses, DiffersApart, AllocationVaries, CollectionsSpread,
        DoesNotGrow,
    ];

    private static Caveat? Drifts(CellGround ground)
        => Effect(ground, (sitting, cell) => Trend.OverRounds(sitting.TimesAtRoundSpeed(cell, ground.View.ReferenceBeat))) is not { } grown
            ? null
            : new Caveat
        {
            Name = "drifts",
            Subject = ground.Subject,
            Evidence = Text($"its time {(grown > 0 ? "grows" : "falls")} by {Math.Abs(Math.Exp(grown) - 1):P0} from the first third ",
                $"of a sitting's rounds to the last, in sitting after sitting"),
            WayOut = "look for state that grows from call to call, such as a list or a cache; ChangesInput() gives every call an "
                + "input of its own",
        };

    private static Caveat? PlaceMatters(CellGround ground)
        => Effect(ground, (sitting, cell) => Trend.OverPlaces(sitting.TimesAtRoundSpeed(cell, ground.View.ReferenceBeat),
            sitting.Taken.Places(cell))) is not { } later ? null : new Caveat
        {
            Name = "place-matters",
            Subject = ground.Subject,
            Evidence = Text($"it takes {Math.Abs(Math.Exp(later) - 1):P0} {(later > 0 ? "longer" : "less")} late in a round than ",
                $"early, although the order is shuffled"),
            WayOut = "another cell leaves something behind that it meets, such as a full heap or an emptied cache; run it with --apart",
        };

    // A log ratio that shows in sitting after sitting; null when none does.
    private static double? Effect(CellGround ground, Func<SittingFigures, int, double> figure)
    {
        if (ground.Study.Findings.Sittings < FewestSittings || !ground.Cell.NanosecondsPerCall.IsMeasured
            || ground.Cell.Signals.IsMostlyWaiting)
        {
            return null;
        }

        var perSitting = ground.View.PerSitting(ground.Row, ground.Input, figure);
        var effect = SampleStatistics.MeanInterval(perSitting, StrictLevel);
        var isLarge = Math.Abs(effect.Estimate) > Math.Max(LeastEffect, ground.Study.Findings.MarginShare);
        return isLarge && effect.IsBounded && (effect.Lower > 0 || effect.Upper < 0) ? effect.Estimate : null;
    }

    private static Caveat? SeveralSpeeds(CellGround ground)
    {
        if (ground.Cell.Speeds.Count == 0)
        {
            return null;
        }

        var speeds = ground.Cell.Speeds.Select(speed => Text(
            $"{speed.NanosecondsPerCall.Estimate:0.0##} ns in {speed.Placements}"));
        var places = ground.Study.Findings.Copies > 1 ? "placements" : "processes";
        return new Caveat
        {
            Name = "several-speeds",
            Subject = ground.Subject,
            Evidence = Text($"it takes {string.Join(" and ", speeds)} of {ground.Cell.Placements} {places}: ")
                + "the same code, as it and its data happen to lie and to be compiled",
            WayOut = "quote each of them, and never their mean, at which it does not run; --speeds tells what goes along with them, "
                + "--explain speeds whether they go without the compiler's profile or its tiers, "
                + "and --copies 4 whether each copy has its own",
        };
    }

    // What differs from process to process, told as the speeds it comes to, is told.
    private static bool AreSpeedsTold(CellGround ground) => ground.Cell.Speeds.Count > 0 || ground.Cell.Contrast is { Speeds.Count: > 0 };

    private static Caveat? TwoModes(CellGround ground)
    {
        if (AreSpeedsTold(ground) || ground.Study.Findings.Sittings < FewestSittings || !ground.Cell.NanosecondsPerCall.IsMeasured
            || ground.Cell.Signals.IsMostlyWaiting)
        {
            return null;
        }

        // Against the baseline of the same round, or its twin: what the machine did is in both.
        var reference = ground.Study.Record.Study.Reference(ground.Row) ?? ground.Row;
        var kind = reference == ground.Row ? CellKind.Twin : CellKind.Variant;
        var ratios = ground.View.PerSitting(kind, ground.Row, reference, ground.Input,
            (sitting, cell, other) => sitting.LogRatios(cell, other));
        return Modes.Find([.. ratios.SelectMany(ratio => ratio).Where(double.IsFinite)]) is not { Distance: > LeastDistance } modes
            || MachineCaveats.MayExplain(ground, modes.Distance) ? null : new Caveat
            {
                Name = "two-modes",
                Subject = ground.Subject,
                Evidence = Text($"its rounds fall into two heaps, {Math.Exp(modes.Distance) - 1:P0} apart, the slower one holding ",
                    $"{modes.UpperShare:P0} of them"),
                WayOut = "its time depends on something that changes from round to round or from process to process, such as where "
                    + "its data lies or how branches are predicted: quote both heaps, not one figure",
            };
    }

    private static Caveat? SittingsDisagree(CellGround ground)
    {
        if (AreSpeedsTold(ground) || ground.Cell.Contrast is not { } contrast || ground.Study.Findings.Sittings < FewestSittings
            || ground.Study.Record.Study.Reference(ground.Row) is not { } reference || StrayProcesses(ground) is not null)
        {
            return null;
        }

        // Where the difference is many times as large, it is not in doubt.
        var margin = ground.Study.Findings.MarginShare;
        var matters = contrast.TimeRatio.Through(Math.Log).HalfWidth > Math.Max(margin,
            LayoutShare * Math.Abs(Math.Log(contrast.TimeRatio.Estimate)));
        if (!matters)
        {
            return null;
        }

        T[] Compared<T>(Func<SittingFigures, int, int, T> figure)
            => ground.View.PerSitting(CellKind.Variant, ground.Row, reference, ground.Input, figure);
        var between = SampleStatistics.Deviation(Compared((sitting, cell, other) => sitting.MiddleLogRatio(cell, other)));
        var within = Math.Sqrt(SampleStatistics.Mean(Compared((sitting, cell, other) => Math.Pow(sitting.StandardErrorOfLogRatio(cell,
            other), 2))));
        return !(between > LayoutFactor * within) || !(between > 2 * margin) || MachineCaveats.MayExplain(ground, between)
            ? null
            : new Caveat
        {
            Name = "sittings-disagree",
            Subject = ground.Subject,
            Evidence = Text($"its ratio to the baseline changes by {between:P1} from one process to the next, and by {within:P1} ",
                $"within one: how its code and data happen to lie in memory decides"),
            WayOut = "more sittings (--within) narrow the interval; a single process would have shown you one of these results as if "
                + "it were the truth",
        };
    }

    // Of as few as the mean leaves out at an end: more of them are in the figures, and in their intervals. So is the one of a few sittings,
    // whose mean leaves none out; what the figures would be without it tells why they are as wide as they are. Values that were brought to
    // a quiet core lie apart for how little tells of it.
    private static Caveat? StrayProcesses(CellGround ground)
    {
        var times = EdgeRules.Usable(ground.View.Times(ground.Row, ground.Input));
        var isLeftOut = SampleMean.Outer(times.Length) > 0;
        var outer = Math.Max(1, SampleMean.Outer(times.Length));
        if (times.Length < Strays.FewestValues || AreSpeedsTold(ground) || !ground.Cell.NanosecondsPerCall.IsMeasured
            || ground.Cell.Signals.IsMostlyWaiting)
        {
            return null;
        }

        var middle = SampleStatistics.Median(times);
        double[] off = [.. times.Select(time => Math.Log(time / middle))];
        double[] strays = [.. Strays.Of(off, LeastStray).Select(place => off[place]).Order()];
        if (strays.Length == 0 || strays.Count(log => log < 0) > outer || strays.Count(log => log > 0) > outer
            || (!isLeftOut && strays.Length > 1) || MachineCaveats.MayExplain(ground, strays.Max(Math.Abs)))
        {
            return null;
        }

        var others = SampleStatistics.MeanInterval(
            [.. times.Where(time => Math.Abs(Math.Log(time / middle)) < Math.Abs(strays[0]))], ground.Cell.NanosecondsPerCall.Level);
        return new Caveat
        {
            Name = "stray-processes",
            Subject = ground.Subject,
            Evidence = Text($"in {strays.Length} of {times.Length} processes it took ",
                $"{string.Join(" and ", strays.Select(log => Text($"{Math.Exp(log):0.00}")))} times as long as in the others, ",
                isLeftOut ? (FormattableString)$"whose figures these are"
                    : $"which took {others.Estimate:0.0##} ns ± {others.HalfWidth:0.0##}"),
            WayOut = "expect such a process now and then: how code is compiled and where it lies is drawn once in each"
                + (isLeftOut ? "" : "; nine sittings and more (--within) leave the outermost out of the figures"),
        };
    }

    private static Caveat? DiffersApart(CellGround ground)
    {
        if (ground.Cell.Contrast is not { ApartTimeRatio: { IsBounded: true } apart, TimeRatio: { IsBounded: true } together })
        {
            return null;
        }

        var areTheyApart = apart.Lower > together.Upper || apart.Upper < together.Lower;
        return !areTheyApart || Math.Abs(Math.Log(apart.Estimate / together.Estimate)) <= ground.Study.Findings.MarginShare
            ? null
            : new Caveat
        {
            Name = "differs-apart",
            Subject = ground.Subject,
            Evidence = Text($"it takes {together.Estimate:0.00} times the baseline's time beside the other variants and ",
                $"{apart.Estimate:0.00} times in a process of its own: they leave each other types, caches or garbage"),
            WayOut = "believe the figure that is nearer to your program: together if it uses several of them, apart if it uses one",
        };
    }

    private static Caveat? AllocationVaries(CellGround ground)
    {
        if (ground.Cell.Signals.AllocatedBytes == 0)
        {
            return null;
        }

        double[][] sittings = [.. ground.View.PerSitting(ground.Row, ground.Input, (sitting, cell) => sitting.Taken.Of(cell)
            .Select(reading => (double)reading.AllocatedBytes / reading.Calls).ToArray())
            .Where(bytes => bytes.Length >= FewestReadings)];
        double[] all = [.. sittings.SelectMany(bytes => bytes)];
        return sittings.Length == 0 || sittings.Count(IsVarying) * 2 <= sittings.Length ? null : new Caveat
        {
            Name = "allocation-varies",
            Subject = ground.Subject,
            Evidence = Text($"it allocates between {SampleStatistics.Quantile(all, 0.1):0} and ",
                $"{SampleStatistics.Quantile(all, 0.9):0} bytes a call in four readings of five, on the same input"),
            WayOut = "look for a pool, a cache or a random choice; take bytes per call as the middle of many, not as a fact of every call",
        };
    }

    private static bool IsVarying(double[] bytes)
        => SampleStatistics.Quantile(bytes, 0.9) - SampleStatistics.Quantile(bytes, 0.1) > Math.Max(VaryingBytes,
            VaryingShare * SampleStatistics.Mean(bytes));

    private static Caveat? CollectionsSpread(CellGround ground)
    {
        var share = (double)ground.Cell.Signals.WithCollection / Math.Max(1, ground.Cell.Signals.Readings);
        if (share is not (> FewCollections and < 1 - FewCollections))
        {
            return null;
        }

        var readings = ground.View.PerSitting(ground.Row, ground.Input, (sitting, cell) => sitting.Taken.Of(cell))
            .SelectMany(sitting => sitting).ToList();
        double[] all = [.. readings.Select(reading => reading.NanosecondsPerCall)];
        double[] free = [.. readings.Where(reading => reading.CollectionsGen0 == 0).Select(reading => reading.NanosecondsPerCall)];
        return !(Spread(all) > VaryingShare) || !(Spread(free) < Spread(all) / 2) ? null : new Caveat
        {
            Name = "collections-spread",
            Subject = ground.Subject,
            Evidence = Text($"a collection fell into {share:P0} of its readings: they spread over {Spread(all):P0} with these and ",
                $"{Spread(free):P0} without"),
            WayOut = "run it with --collections held to see the operation without its collections, and count both",
        };
    }

    private static double Spread(double[] times)
        => (SampleStatistics.Quantile(times, 0.9) - SampleStatistics.Quantile(times, 0.1)) / SampleStatistics.Median(times);

    // Told once, at the largest size.
    // How many times as long it takes on the largest input as on the smallest.
    private static Interval Growth(SittingsView view, int row, int smallest, int largest)
    {
        int? Small(SittingFigures sitting) => sitting.Taken.Find(CellKind.Variant, row, smallest, view.Way(row), view.Target);
        var grown = view.PerSitting(row, largest, (sitting, own) => Small(sitting) is { } small
            ? Math.Log(sitting.MiddleTime(own, view.ReferenceBeat) / sitting.MiddleTime(small, view.ReferenceBeat))
            : double.NaN);
        return SampleStatistics.MeanInterval(grown, view.Level).Through(Math.Exp);
    }

    // A look-up that answers as a search does, and not the same to every input, does the job: it only need not go through all.
    private static bool AnswersAsOneThatGrows(CellGround ground, int smallest, int largest)
    {
        var record = ground.Study.Record;
        return record.Study.Tolerance is not null
            && !record.Observations.Any(seen => seen.Kind == ObservationKind.IgnoresInput && seen.Variant == ground.Row)
            && Enumerable.Range(0, record.Study.Variants.Count)
                .Where(other => other != ground.Row && record.Study.Variants[other].Part == VariantPart.Whole)
                .Any(other => Growth(ground.View, other, smallest, largest) is { IsBounded: true } grown && grown.Lower > GrowthOfTime);
    }

    private static Caveat? DoesNotGrow(CellGround ground)
    {
        var inputs = ground.Study.Record.Study.Inputs;
        if (ground.Cell.Variant.Part != VariantPart.Whole || inputs.Any(input => input.Sizes.Count != 1))
        {
            return null;
        }

        var smallest = Enumerable.Range(0, inputs.Count).MinBy(index => inputs[index].Sizes[0].Value);
        var largest = Enumerable.Range(0, inputs.Count).MaxBy(index => inputs[index].Sizes[0].Value);
        var growth = (double)inputs[largest].Sizes[0].Value / Math.Max(1, inputs[smallest].Sizes[0].Value);
        if (ground.Input != largest || growth < GrowthOfSize)
        {
            return null;
        }

        var ratio = Growth(ground.View, ground.Row, smallest, largest);
        return !ratio.IsBounded || ratio.Upper >= GrowthOfTime || AnswersAsOneThatGrows(ground, smallest, largest) ? null : new Caveat
        {
            Name = "does-not-grow",
            Subject = ground.Subject,
            Evidence = Text($"it takes {ratio.Estimate:0.00} times as long on {growth:0} times the size ({inputs[largest].Sizes[0].Axis})"),
            WayOut = "look whether it reads its input at all; a look-up in what was prepared may be as fast as that, and is better "
                + "shown with prepare and use",
        };
    }
}
