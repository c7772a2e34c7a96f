using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Every figure of a cell that can be shown, in the order of the tables.</summary>
internal static class FigureCatalogue
{
    public const string None = "none";

    private const double TellingShare = 0.05;
    private const double LeastReadsAndWrites = 0.5;

    public static IReadOnlyList<Figure> All { get; } =
    [
        new("place", "place", _ => true,
            cell => cell.Place is not { } place ? ""
                : place.First == place.Last ? Whole(place.First)
                : $"{Whole(place.First)}–{Whole(place.Last)}") { Rank = 3 },
        new("time", "time per call", _ => true,
            cell => cell.Failure is not null
                ? "not timed"
                : SpeedText.Time(cell)) { Rank = 0, ShortHeading = "time/call" },
        new("interval", "", _ => true, _ => "") { Rank = 2, Kind = ColumnKind.Marks },
        // Read with the sign of the figure below it: baseline's time ÷ 5.
        new("factor", "baseline's time", _ => true,
            cell => cell.Contrast is { } contrast
                ? SpeedText.Factor(contrast)
                : "") { Rank = 0, ShortHeading = "baseline", IsOfContrast = true },
        new("saved", "saved", _ => true,
            cell => cell.Contrast is { TimeRatio.Bound: Bound.None } contrast
                ? SpeedText.Saved(contrast)
                : "") { Rank = 4, IsOfContrast = true },
        new("saved-time", "saved/call", _ => true,
            cell => cell.Contrast is { } contrast
                ? Quantity.Known(contrast.SavedNanosecondsPerCall, Quantity.Saved)
                : "") { Rank = 5, IsOfContrast = true },
        new("bytes", "bytes/call", _ => true,
            cell => cell.Failure is null ? Quantity.Bytes(cell.AllocatedBytesPerCall) : "") { Rank = 1, ShortHeading = "bytes" },
        new("peak-memory", "peak memory", _ => true, cell
            => cell.PeakMemoryBytes is { } bytes ? Quantity.Size(bytes) : "") { Rank = 1, ShortHeading = "memory" },
        new("verdict", "verdict", _ => true, _ => "") { Rank = 0, Kind = ColumnKind.Verdict },

        new("apart", "in a process of its own", cell => cell.Contrast?.ApartTimeRatio is not null,
            cell => cell.Contrast?.ApartTimeRatio is { } apart ? Quantity.Factor(apart) : ""),
        new("held", "collector kept out", cell => cell.Contrast?.Held is not null,
            cell => cell.Contrast?.Held is { TimeRatio: var held } ? Quantity.Factor(held) : ""),
        new("held-share", "of the difference remains", cell => cell.Contrast?.Held is not null, HeldShareText),
        new("side-by-side", "side by side", cell => cell.OverlappedNanosecondsPerCall is not null,
            cell => cell.OverlappedNanosecondsPerCall is { } time ? Quantity.Time(time) : ""),
        new("called", "kept a call", cell => cell.CalledNanosecondsPerCall is not null,
            cell => cell.CalledNanosecondsPerCall is { } time ? Quantity.Time(time) : ""),
        new("in-loop", "by its loop", cell => cell.IsInlined is not null,
            cell => cell.IsInlined is { } isInlined ? isInlined ? "taken in" : "called" : ""),
        new("processor-time", "processor time", IsProcessorTimeTelling, cell => Quantity.Time(cell.ProcessorNanosecondsPerCall)),
        new("calls", "calls/s", cell => cell.Threads is not null,
            cell => cell.Threads is { } threads ? Quantity.Known(threads.CallsPerSecond, Quantity.Rate) : ""),
        new("thread-gain", "calls/s of one thread", cell => cell.Threads is { Threads: > 1 },
            cell => cell.Threads is { Threads: > 1, SpeedUp: { } speed } ? Quantity.Factor(speed) : ""),
        new("items", "items/s", cell => Rate(cell, "items") is not null, cell => RateText(cell, "items", "")),
        new("bytes-rate", "bytes/s", cell => Rate(cell, "bytes") is not null, cell => RateText(cell, "bytes", "B")),
        new("operations", "operations/s", cell => Rate(cell, "operations") is not null, cell => RateText(cell, "operations", "")),
        new("by-kinds", "by its kinds", cell => cell.WeightedNanosecondsPerCall is not null,
            cell => cell.WeightedNanosecondsPerCall is { } time ? Quantity.Time(time) : ""),
        new("kept", "kept in memory", cell => cell.RetainedBytes is not null,
            cell => cell.RetainedBytes is { } bytes ? Quantity.Bytes(bytes) : ""),
        new("exceptions", "exceptions/call", cell => cell.ExceptionsPerCall > 0,
            cell => NoneOr(cell.ExceptionsPerCall, count => Quantity.Small(count))),
        new("locks", "locks met taken/million calls", cell => cell.LockContentionsPerCall > 0,
            cell => NoneOr(cell.LockContentionsPerCall * 1e6, count => Quantity.Small(count))),
        new("collections", "collections/million calls", cell => cell.Collections?.PerMillionCalls.Sum() > 0, CollectionsText),
        new("paid", "collections paid", IsPauseTelling, cell => cell.PaidNanosecondsPerCall is { } paid ? Quantity.Time(paid) : ""),
        new("paid-factor", "factor, collections paid", cell => IsPauseTelling(cell) && cell.Contrast?.PaidTimeRatio is not null,
            cell => cell.Contrast?.PaidTimeRatio is { } ratio ? Quantity.Factor(ratio) : ""),
        new("pause", "pause/call", cell => cell.Collections?.PauseNanosecondsPerCall > 0,
            cell => NoneOr(cell.Collections?.PauseNanosecondsPerCall ?? 0, Quantity.Time)),
        new("held-readings", "readings the collector was kept out of", cell => cell.Collections?.HeldShare is not null,
            cell => cell.Collections?.HeldShare is { } share ? Quantity.Percent(share) : ""),
        new("instructions", "instructions/call", cell => cell.Counters?.InstructionsPerCall is not null,
            cell => Count(cell.Counters?.InstructionsPerCall)),
        new("per-cycle", "instructions/cycle", cell => cell.Counters is { InstructionsPerCall: not null, CyclesPerCall: > 0 },
            cell => Count(cell.Counters?.InstructionsPerCall / cell.Counters?.CyclesPerCall)),
        new("branches-missed", "branches missed/call", cell => cell.Counters?.BranchesMissedPerCall is not null,
            cell => Count(cell.Counters?.BranchesMissedPerCall)),
        new("cache-misses", "cache misses/call", cell => cell.Counters?.CacheMissesPerCall is not null,
            cell => Count(cell.Counters?.CacheMissesPerCall)),
        new("cold-call", "cold call", IsWatchedFromCold,
            cell => cell.WarmUp is { } warm ? Quantity.Time(warm.ColdCallNanoseconds) : ""),
        new("first-call", "first call", _ => false, cell => Quantity.Time(cell.WarmUp?.FirstCallNanoseconds ?? double.NaN)),
        new("fast-after", "fast after", IsWatchedFromCold, UntilFastText),
        new("code", "code", cell => cell.WarmUp is { CodeVersions.Count: > 0 }, CodeText),
        new("last-compiled", "last compiled", IsWatchedFromCold, cell => After(cell.WarmUp?.LastCompiledMilliseconds)),
        new("bytes-changed", "bytes last changed", IsWatchedFromCold, cell => After(cell.WarmUp?.BytesChangedMilliseconds)),
        new("settled", "settled after", IsWatchedFromCold,
            cell => cell.WarmUp is not { } warm ? ""
                : double.IsNaN(warm.SettledMilliseconds) ? "never"
                : After(warm.SettledMilliseconds)),
        new("reads-writes", "reads and writes/call", cell => cell.ReadsAndWritesPerCall >= LeastReadsAndWrites,
            cell => double.IsNaN(cell.ReadsAndWritesPerCall) ? "" : NoneOr(cell.ReadsAndWritesPerCall, count => Quantity.Small(count))),
        new("bytes-before", "bytes/call before", IsWatchedFromCold,
            cell => cell.WarmUp is { } warm ? Quantity.Bytes(warm.AllocatedBytesPerCallBefore) : ""),
        new("shared", "while the core is shared", IsSharingTelling,
            cell => IsSharingTelling(cell) ? Quantity.Factor(cell.SharedTimeRatio!.Value) : ""),
        new("round-spread", "spread of rounds", _ => false, cell => Deviation(cell.Spread.RoundShare)),
        new("copy-spread", "of copies", _ => false, cell => Deviation(cell.Spread.CopyShare)),
        new("sitting-spread", "of processes", _ => false, cell => Deviation(cell.Spread.SittingShare)),
        new("residue", "loop may leave", _ => false, cell => Quantity.Time(cell.Loop.ResidueNanoseconds())),
    ];

    /// <summary>Figures that stand in the table unless others are asked for.</summary>
    public static IReadOnlyList<Figure> InTable { get; } = [.. All.Where(figure => figure.Rank is not null)];

    /// <summary>Figures that stand below it where they tell something.</summary>
    public static IReadOnlyList<Figure> Below { get; } = [.. All.Where(figure => figure.Rank is null)];

    private static string Count(double? count) => count is { } known ? NoneOr(known, figure => Quantity.Small(figure)) : "";

    private static string Whole(int number) => number.ToString(CultureInfo.InvariantCulture);

    private static string HeldShareText(CellFindings cell)
        => cell.Contrast is not { Held: { } held } contrast ? ""
            : contrast.Verdict is Verdict.Faster or Verdict.Slower
                && double.IsFinite(held.ShareRemaining) ? Quantity.Percent(held.ShareRemaining)
            : "no clear difference";

    private static string After(double? milliseconds)
        => milliseconds is { } known && !double.IsNaN(known) ? Quantity.Time(known * 1e6) : None;

    // The way to full speed stands where it was asked for: who asks has first calls made in fresh processes.
    private static bool IsWatchedFromCold(CellFindings cell) => cell.WarmUp is { ColdCallNanoseconds: > 0 };

    private static string CodeText(CellFindings cell)
        => cell.WarmUp is { CodeVersions: { Count: > 0 } versions }
            ? $"{Word(versions[^1].Tier)} after {Quantity.Time(versions[^1].Milliseconds * 1e6)}"
                + (versions.Count > 1 ? $", version {Whole(versions.Count)}" : "")
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

    private static bool IsProcessorTimeTelling(CellFindings cell)
        => cell.Signals.IsMostlyWaiting
            || (cell.Loop.Path == CallPath.Awaited && Math.Abs(cell.ProcessorNanosecondsPerCall - cell.NanosecondsPerCall.Estimate)
                > TellingShare * cell.NanosecondsPerCall.Estimate);

    // Where what collections take changes the time by more than its interval.
    private static bool IsPauseTelling(CellFindings cell)
        => cell.PaidNanosecondsPerCall is { } paid && Math.Abs(paid.Estimate - cell.NanosecondsPerCall.Estimate) > Math.Min(
            cell.NanosecondsPerCall.HalfWidth, TellingShare * cell.NanosecondsPerCall.Estimate);

    // What is told apart from no difference at all, and is worth a column.
    private static bool IsSharingTelling(CellFindings cell)
        => cell.SharedTimeRatio is { } ratio && ratio.Lower > 1 && ratio.Estimate > 1 + TellingShare;

    private static string Deviation(double share) => double.IsFinite(share) ? Quantity.Percent(share) : "";

    private static string NoneOr(double figure, Func<double, string> write) => figure == 0 ? None : write(figure);

    private static RateFindings? Rate(CellFindings cell, string quantity) => cell.Rates.FirstOrDefault(rate => rate.Quantity == quantity);

    private static string RateText(CellFindings cell, string quantity, string unit)
        => Rate(cell, quantity) is not { } rate ? ""
            : rate.LimitShare is { } share
                ? $"{Quantity.Known(rate.PerSecond, Quantity.Rate)}{unit}, {Quantity.Percent(share.Estimate)} of {rate.Limit}"
            : $"{Quantity.Known(rate.PerSecond, Quantity.Rate)}{unit}";

    private static string CollectionsText(CellFindings cell)
        => cell.Collections is { } collections && collections.PerMillionCalls.Sum() > 0
            ? string.Join(" + ", collections.PerMillionCalls.Select(
                count => Quantity.Small(count, collections.Seen < 10 ? 1 : collections.Seen < 100 ? 2 : 3)))
            : None;

    private static string UntilFastText(CellFindings cell)
        => cell.WarmUp is { } warm
            ? $"{Quantity.Count((long)warm.CallsUntilFast)} calls, {Quantity.Time(warm.MillisecondsUntilFast * 1e6)}"
            : "";
}
