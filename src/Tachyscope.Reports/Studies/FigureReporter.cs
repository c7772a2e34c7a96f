using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Machines;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Chooses the figures worth showing beside the time and writes them. Pure.</summary>
internal static class FigureReporter
{
    private const double TellingShare = 0.05;
    private const int TypesNamed = 3;
    private const double LeastReadsAndWrites = 0.5;
    private const string None = "none";

    private static readonly Figure[] All =
    [
        new("in a process of its own", cell => cell.Contrast?.ApartTimeRatio is not null, cell => cell.Contrast?.ApartTimeRatio is { } apart ? Quantity.Factor(apart.Estimate, apart.Lower, apart.Upper) : ""),
        new("side by side", cell => cell.OverlappedNanosecondsPerCall is not null, cell => cell.OverlappedNanosecondsPerCall is { } time ? Quantity.Time(time.Estimate, time.HalfWidth) : ""),
        new("processor time", IsProcessorTimeTelling, cell => Quantity.Time(cell.ProcessorNanosecondsPerCall)),
        new("calls/s", cell => cell.Threads is not null, cell => cell.Threads is { } threads ? Quantity.Rate(threads.CallsPerSecond) : ""),
        new("calls/s of one thread", cell => cell.Threads is { Threads: > 1 }, cell => cell.Threads is { Threads: > 1, SpeedUp: { } speed } ? Quantity.Factor(speed.Estimate, speed.Lower, speed.Upper) : ""),
        new("items/s", cell => Rate(cell, "items") is not null, cell => RateText(cell, "items", "")),
        new("bytes/s", cell => Rate(cell, "bytes") is not null, cell => RateText(cell, "bytes", "B")),
        new("operations/s", cell => Rate(cell, "operations") is not null, cell => RateText(cell, "operations", "")),
        new("by its kinds", cell => cell.WeightedNanosecondsPerCall is not null, cell => cell.WeightedNanosecondsPerCall is { } time ? Quantity.Time(time) : ""),
        new("kept in memory", cell => cell.RetainedBytes is not null, cell => cell.RetainedBytes is { } bytes ? Quantity.Bytes(bytes) : ""),
        new("exceptions/call", cell => cell.ExceptionsPerCall > 0, cell => NoneOr(cell.ExceptionsPerCall, Quantity.Small)),
        new("locks met taken/million calls", cell => cell.LockContentionsPerCall > 0, cell => NoneOr(cell.LockContentionsPerCall * 1e6, Quantity.Small)),
        new("collections/million calls", cell => cell.Collections?.PerMillionCalls.Sum() > 0, CollectionsText),
        new("pause/call", cell => cell.Collections?.PauseNanosecondsPerCall > 0, cell => NoneOr(cell.Collections?.PauseNanosecondsPerCall ?? 0, Quantity.Time)),
        new("collector kept out", cell => cell.Collections?.HeldShare is not null, cell => cell.Collections?.HeldShare is { } share ? Quantity.Percent(share) : ""),
        new("cold call", cell => cell.WarmUp is { ColdCallNanoseconds: > 0 }, cell => cell.WarmUp is { } warm ? Quantity.Time(warm.ColdCallNanoseconds) : ""),
        new("first call", _ => false, cell => Quantity.Time(cell.WarmUp?.FirstCallNanoseconds ?? double.NaN)),
        new("fast after", cell => cell.WarmUp is { ColdCallNanoseconds: > 0 }, UntilFastText),
        new("code", cell => cell.WarmUp is { CodeVersions.Count: > 0 }, CodeText),
        new("last compiled", cell => cell.WarmUp is { ColdCallNanoseconds: > 0 }, cell => After(cell.WarmUp?.LastCompiledMilliseconds)),
        new("bytes last changed", cell => cell.WarmUp is { ColdCallNanoseconds: > 0 }, cell => After(cell.WarmUp?.BytesChangedMilliseconds)),
        new("settled after", cell => cell.WarmUp is { ColdCallNanoseconds: > 0 }, cell => cell.WarmUp is { } warm ? double.IsNaN(warm.SettledMilliseconds) ? "never" : After(warm.SettledMilliseconds) : ""),
        new("reads and writes/call", cell => cell.ReadsAndWritesPerCall >= LeastReadsAndWrites, cell => double.IsNaN(cell.ReadsAndWritesPerCall) ? "" : NoneOr(cell.ReadsAndWritesPerCall, Quantity.Small)),
        new("bytes/call before", cell => cell.WarmUp is { ColdCallNanoseconds: > 0 }, cell => cell.WarmUp is { } warm ? Quantity.Bytes(warm.AllocatedBytesPerCallBefore) : ""),
        new("loop may leave", _ => false, cell => Quantity.Time(cell.Loop.FloorNanoseconds())),
    ];

    /// <summary>The figures of one input: those that tell something, or all that are known.</summary>
    public static IEnumerable<FigureTable> Of(InputFindings input, bool areAllShown)
    {
        var cells = input.Cells.Where(cell => cell.Failure is null && cell.NanosecondsPerCall.IsKnown).ToList();
        var shown = All.Where(figure => cells.Any(cell => figure.IsTelling(cell) || (areAllShown && IsKnown(figure.Write(cell))))).ToList();
        if (shown.Count > 0 && cells.Count > 0)
        {
            yield return new FigureTable
            {
                Title = "further figures",
                Of = "variant",
                Headings = [.. shown.Select(figure => figure.Heading)],
                Rows = [.. cells.Select(cell => new FigureRow(cell.Variant.Name, [.. shown.Select(figure => figure.Write(cell))]))
                    .Where(row => areAllShown || row.Figures.Any(figure => IsKnown(figure) && figure != None))],
            };
        }

        if (cells.Any(cell => cell.Contrast is { Repeats.Count: > 0 }))
        {
            yield return Repeats(cells);
        }

        if (cells.Any(cell => cell.Stages.Count > 0))
        {
            yield return new FigureTable
            {
                Title = "stages",
                Of = "variant: stage",
                Headings = ["times/call", "time per call", "share"],
                Rows = [.. cells.SelectMany(Stages)],
            };
        }

        if (cells.Any(cell => cell.AllocatedTypes.Count > 0))
        {
            yield return new FigureTable
            {
                Title = "types allocated, by samples",
                Of = "variant",
                Headings = ["share and type"],
                Rows = [.. cells.Where(cell => cell.AllocatedTypes.Count > 0).Select(cell => new FigureRow(cell.Variant.Name, [TypesText(cell)]))],
            };
        }
    }

    /// <summary>The run's checks on itself: what its twins, its metronome and the signals of its readings say.</summary>
    public static IEnumerable<FigureTable> Checks(StudyFindings findings)
    {
        yield return new FigureTable
        {
            Title = "twin of the baseline",
            Of = "input",
            Headings = ["baseline's time", "least difference claimed"],
            Rows = [.. findings.Inputs.Select(input => new FigureRow(input.Input.Label,
            [
                input.TwinTimeRatio.IsKnown ? Quantity.Factor(input.TwinTimeRatio.Estimate, input.TwinTimeRatio.Lower, input.TwinTimeRatio.Upper) : "",
                double.IsFinite(input.FloorShare) ? Quantity.Percent(input.FloorShare) : "",
            ]))],
        };
        var (metronome, signals) = (findings.Metronome, findings.Signals);
        yield return new FigureTable
        {
            Title = "metronome",
            Of = "",
            Headings = ["readings", "median link", "spread", "slowed", "the machine was"],
            Rows = [new FigureRow("", [Quantity.Count(metronome.Readings), Quantity.Time(metronome.MedianNanosecondsPerLink), Quantity.Percent(metronome.SpreadShare), Quantity.Percent(metronome.SlowShare), Word(metronome.Steadiness)])],
        };
        string Counted(int count) => signals.Readings == 0 ? "" : $"{Quantity.Count(count)} ({Quantity.Percent((double)count / signals.Readings)})";
        yield return new FigureTable
        {
            Title = "readings",
            Of = "",
            Headings = ["taken", "interrupted", "with a collection", "with compilation"],
            Rows = [new FigureRow("", [Quantity.Count(signals.Readings), Counted(signals.Interrupted), Counted(signals.WithCollection), Counted(signals.WithCompilation)])],
        };
    }

    private static string Word(Steadiness steadiness) => steadiness switch
    {
        Steadiness.Quiet => "quiet",
        Steadiness.Uneasy => "uneasy",
        _ => "noisy",
    };

    private static string After(double? milliseconds) => milliseconds is { } known && !double.IsNaN(known) ? Quantity.Time(known * 1e6) : None;

    private static string CodeText(CellFindings cell)
        => cell.WarmUp is { CodeVersions: { Count: > 0 } versions }
            ? $"{Word(versions[^1].Tier)} after {Quantity.Time(versions[^1].Milliseconds * 1e6)}{(versions.Count > 1 ? string.Create(CultureInfo.InvariantCulture, $", version {versions.Count}") : "")}"
            : "";

    private static string Word(CodeTier tier) => tier switch
    {
        CodeTier.Unoptimised => "unoptimised",
        CodeTier.OptimisedAtOnce => "optimised at once",
        CodeTier.Quick => "tier 0",
        CodeTier.Optimised => "tier 1",
        CodeTier.OptimisedInLoop => "tier 1, replaced in a loop",
        CodeTier.Profiling => "tier 0 with a profile",
        CodeTier.OptimisedProfiling => "tier 1 with a profile",
        CodeTier.BuiltAhead => "built ahead",
        _ => "unknown",
    };

    private static bool IsKnown(string figure) => figure is not ("" or Quantity.Absent);

    private static FigureTable Repeats(List<CellFindings> cells)
    {
        var compared = cells.Where(cell => cell.Contrast is { Repeats.Count: > 0 }).ToList();
        var repeats = compared[0].Contrast!.Repeats.Select(repeat => repeat.Repeat).ToList();
        return new FigureTable
        {
            Title = "repeats",
            Of = "variant",
            Headings = [.. repeats.Select(repeat => string.Create(CultureInfo.InvariantCulture, $"baseline's time, {repeat}")), "they differ by", "verdicts"],
            Rows = [.. compared.Select(cell => new FigureRow(cell.Variant.Name,
            [
                .. cell.Contrast!.Repeats.Select(repeat => Quantity.Factor(repeat.TimeRatio.Estimate, repeat.TimeRatio.Lower, repeat.TimeRatio.Upper)),
                Quantity.Percent((cell.Contrast.Repeats.Max(repeat => repeat.TimeRatio.Estimate) / cell.Contrast.Repeats.Min(repeat => repeat.TimeRatio.Estimate)) - 1),
                Agreement(cell.Contrast),
            ]))],
        };
    }

    private static string Agreement(Contrast contrast)
        => contrast.Repeats.Select(repeat => repeat.Verdict).Distinct().Count() == 1
            ? "all alike"
            : string.Join(", ", contrast.Repeats.Select(repeat => repeat.Verdict.ToString().ToLowerInvariant()));

    private static IEnumerable<FigureRow> Stages(CellFindings cell)
    {
        foreach (var stage in cell.Stages)
        {
            yield return new FigureRow(
                $"{cell.Variant.Name}: {stage.Stage}",
                [Quantity.Small(stage.CountPerCall), Quantity.Time(stage.NanosecondsPerCall.Estimate, stage.NanosecondsPerCall.HalfWidth), Quantity.Percent(stage.Share.Estimate)]);
        }

        if (cell.Stages.Count > 0)
        {
            // Stages inside others are part of their time.
            var outside = 1 - cell.Stages.Where(stage => !stage.Stage.Contains('›', StringComparison.Ordinal)).Sum(stage => stage.Share.Estimate);
            yield return new FigureRow(
                $"{cell.Variant.Name}: outside", ["", Quantity.Time(outside * cell.NanosecondsPerCall.Estimate), Quantity.Percent(outside)]);
        }
    }

    private static bool IsProcessorTimeTelling(CellFindings cell)
        => cell.Signals.IsMostlyWaiting
            || (cell.Loop.Path == CallPath.Awaited && Math.Abs(cell.ProcessorNanosecondsPerCall - cell.NanosecondsPerCall.Estimate) > TellingShare * cell.NanosecondsPerCall.Estimate);

    private static string NoneOr(double figure, Func<double, string> write) => figure == 0 ? None : write(figure);

    private static RateFindings? Rate(CellFindings cell, string quantity) => cell.Rates.FirstOrDefault(rate => rate.Quantity == quantity);

    private static string RateText(CellFindings cell, string quantity, string unit)
        => Rate(cell, quantity) is not { } rate ? ""
            : rate.LimitShare is { } share ? $"{Quantity.Rate(rate.PerSecond)}{unit}, {Quantity.Percent(share)} of {rate.Limit}"
            : $"{Quantity.Rate(rate.PerSecond)}{unit}";

    private static string CollectionsText(CellFindings cell)
        => cell.Collections is { } collections && collections.PerMillionCalls.Sum() > 0
            ? string.Join(" + ", collections.PerMillionCalls.Select(Quantity.Small))
            : None;

    private static string UntilFastText(CellFindings cell)
        => cell.WarmUp is { } warm
            ? $"{Quantity.Count((long)warm.CallsUntilFast)} calls, {Quantity.Time(warm.MillisecondsUntilFast * 1e6)}"
            : "";

    private static string TypesText(CellFindings cell)
    {
        var samples = cell.AllocatedTypes.Sum(type => type.Samples);
        var named = cell.AllocatedTypes.Take(TypesNamed).Select(type => $"{Quantity.Percent((double)type.Samples / samples)} {type.Type}");
        var more = cell.AllocatedTypes.Count - TypesNamed;
        return string.Join(", ", named) + (more > 0 ? string.Create(CultureInfo.InvariantCulture, $" and {more} more") : "");
    }
}
