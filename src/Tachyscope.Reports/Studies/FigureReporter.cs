using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Machines;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Studies;

/// <summary>Chooses the figures worth showing beside the time and writes them. Pure.</summary>
internal static class FigureReporter
{
    private const int TypesNamed = 3;

    /// <summary>The figures of one input that stand below its table: those that tell something, or all that are known.</summary>
    public static IEnumerable<FigureTable> Of(InputFindings input, ReportOptions options)
    {
        var areAllShown = options.Has(Block.Checks);
        var cells = input.Cells.Where(cell => cell.Failure is null && cell.NanosecondsPerCall.IsKnown).ToList();
        // Whoever asks for columns gets those, in the table.
        var shown = options.Columns is not null || !(options.Has(Block.Figures) || areAllShown) ? []
            : FigureCatalogue.Below.Where(figure => cells.Any(cell => figure.IsTelling(cell)
                || (areAllShown && IsKnown(figure.Write(cell))))).ToList();
        if (shown.Count > 0 && cells.Count > 0)
        {
            yield return new FigureTable
            {
                Title = "further figures",
                Of = "variant",
                Headings = [.. shown.Select(figure => figure.Heading)],
                Rows = [.. cells.Select(cell => new FigureRow(cell.Variant.Name, [.. shown.Select(figure => figure.Write(cell))]))
                    .Where(row => areAllShown || row.Figures.Any(figure => IsKnown(figure) && figure != FigureCatalogue.None))],
            };
        }

        if (cells.Any(cell => cell.Cold.Count > 0))
        {
            yield return Cold([.. cells.Where(cell => cell.Cold.Count > 0)]);
        }

        if (cells.Any(cell => cell.Contrast is { Repeats.Count: > 0 }))
        {
            yield return Repeats(cells);
        }

        if (options.Has(Block.Stages) && cells.Any(cell => cell.Stages.Count > 0))
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
                Rows = [.. cells.Where(cell => cell.AllocatedTypes.Count > 0)
                    .Select(cell => new FigureRow(cell.Variant.Name, [TypesText(cell)]))],
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
                input.TwinTimeRatio.IsKnown ? Quantity.Factor(input.TwinTimeRatio) : "",
                double.IsFinite(input.ResolutionShare) ? Quantity.Percent(input.ResolutionShare) : "",
            ]))],
        };
        var (metronome, signals) = (findings.Metronome, findings.Signals);
        yield return new FigureTable
        {
            Title = "metronome",
            Of = "",
            Headings = ["readings", "median link", "spread", "slowed", "the machine was"],
            Rows = [new FigureRow("",
                [Quantity.Count(metronome.Readings), Quantity.Time(metronome.MedianNanosecondsPerLink),
                    Quantity.Percent(metronome.SpreadShare), Quantity.Percent(metronome.SlowShare), Word(metronome.Steadiness)])],
        };
        string Counted(int count)
            => signals.Readings == 0 ? "" : $"{Quantity.Count(count)} ({Quantity.Percent((double)count / signals.Readings)})";
        yield return new FigureTable
        {
            Title = "readings",
            Of = "",
            Headings = ["taken", "interrupted", "with a collection", "with compilation"],
            Rows = [new FigureRow("",
                [Quantity.Count(signals.Readings), Counted(signals.Interrupted), Counted(signals.WithCollection),
                    Counted(signals.WithCompilation)])],
        };
    }

    private static string Word(Steadiness steadiness) => steadiness switch
    {
        Steadiness.Quiet => "quiet",
        Steadiness.Uneasy => "uneasy",
        _ => "noisy",
    };

    private static bool IsKnown(string figure) => figure is not ("" or Quantity.Absent);

    // Beside what it takes warm; each factor is on the baseline's time with the same caches emptied.
    private static FigureTable Cold(List<CellFindings> cells)
    {
        var levels = cells.SelectMany(cell => cell.Cold).Select(cold => cold.EmptiedBytes).Distinct().Order().ToList();
        return new FigureTable
        {
            Title = "caches emptied before each call",
            Of = "variant",
            Headings = ["none", .. levels.Select(bytes => $"up to {Quantity.Size(bytes)}")],
            Rows = [.. cells.SelectMany(Rows)],
        };

        IEnumerable<FigureRow> Rows(CellFindings cell)
        {
            Interval? Time(long bytes) => cell.Cold.FirstOrDefault(cold => cold.EmptiedBytes == bytes)?.NanosecondsPerCall;
            Interval? Ratio(long bytes) => cell.Cold.FirstOrDefault(cold => cold.EmptiedBytes == bytes)?.TimeRatio;
            yield return new FigureRow(cell.Variant.Name,
                [Quantity.Time(cell.NanosecondsPerCall), .. levels.Select(bytes => Time(bytes) is { } time ? Quantity.Time(time) : "")]);
            if (cell.Contrast is { } contrast)
            {
                yield return new FigureRow($"{cell.Variant.Name}, baseline's time",
                    [Quantity.Factor(contrast.TimeRatio), .. levels.Select(bytes => Ratio(bytes) is { } ratio ? Quantity.Factor(ratio)
                        : "")]);
            }
        }
    }

    private static FigureTable Repeats(List<CellFindings> cells)
    {
        var compared = cells.Where(cell => cell.Contrast is { Repeats.Count: > 0 }).ToList();
        var repeats = compared[0].Contrast!.Repeats.Select(repeat => repeat.Repeat).ToList();
        return new FigureTable
        {
            Title = "repeats",
            Of = "variant",
            Headings = [.. repeats.Select(repeat => string.Create(CultureInfo.InvariantCulture, $"baseline's time, {repeat}")),
                "they differ by", "verdicts"],
            Rows = [.. compared.Select(cell => new FigureRow(cell.Variant.Name,
            [
                .. cell.Contrast!.Repeats.Select(repeat => Quantity.Factor(repeat.TimeRatio)),
                cell.Contrast.Repeats.Any(repeat => repeat.TimeRatio.Bound != Bound.None) ? Quantity.Absent
                    : Quantity.Percent((cell.Contrast.Repeats.Max(repeat => repeat.TimeRatio.Estimate)
                        / cell.Contrast.Repeats.Min(repeat => repeat.TimeRatio.Estimate)) - 1),
                Agreement(cell.Contrast),
            ]))],
        };
    }

    private static string Agreement(Contrast contrast)
        => contrast.Repeats.Select(repeat => repeat.Verdict).Distinct().Count() == 1
            ? "all alike"
            : string.Join(", ", contrast.Repeats.Select(repeat => StudyReporter.Word(repeat.Verdict)));

    private static IEnumerable<FigureRow> Stages(CellFindings cell)
    {
        foreach (var stage in cell.Stages)
        {
            yield return new FigureRow(
                $"{cell.Variant.Name}: {stage.Stage}",
                [Quantity.Small(stage.CountPerCall), Quantity.Time(stage.NanosecondsPerCall), Quantity.Percent(stage.Share.Estimate)]);
        }

        if (cell.Stages.Count > 0)
        {
            // Stages inside others are part of their time.
            var outside = Math.Max(0, 1 - cell.Stages.Where(stage => !stage.Stage.Contains('›', StringComparison.Ordinal))
                .Sum(stage => stage.Share.Estimate));
            yield return new FigureRow(
                $"{cell.Variant.Name}: outside", [
                    "", Quantity.Known(cell.NanosecondsPerCall.Through(time => outside * time), Quantity.Time), Quantity.Percent(outside)]);
        }
    }

    private static string TypesText(CellFindings cell)
    {
        var samples = cell.AllocatedTypes.Sum(type => type.Samples);
        var named = cell.AllocatedTypes.Take(TypesNamed).Select(type => $"{Quantity.Percent((double)type.Samples / samples)} {type.Type}");
        var more = cell.AllocatedTypes.Count - TypesNamed;
        return string.Join(", ", named) + (more > 0 ? string.Create(CultureInfo.InvariantCulture, $" and {more} more") : "");
    }
}
