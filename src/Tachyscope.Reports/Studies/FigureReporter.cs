using System.Globalization;
using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>Chooses the figures worth showing beside the time and writes them. Pure.</summary>
internal static class FigureReporter
{
    private const double TellingShare = 0.05;
    private const int TypesNamed = 3;
    private const string None = "none";

    private static readonly Figure[] All =
    [
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

    private static bool IsKnown(string figure) => figure is not ("" or Quantity.Absent);

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
