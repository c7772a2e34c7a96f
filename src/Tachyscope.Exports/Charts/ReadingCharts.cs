using Tachyscope.Analysis.Estimates;
using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;

namespace Tachyscope.Exports.Charts;

/// <summary>Figures of the readings themselves: by sitting, from the first call, and how fast the machine ran.</summary>
internal static class ReadingCharts
{
    // More are thinned evenly: a page has to open.
    private const int MostPoints = 10_000;
    private const double StretchOfSitting = 0.8;

    public static IEnumerable<Chart> Of(StudyRecord record, StudyFindings findings)
    {
        var charts = findings.Inputs.Select((input, index) => Readings(record, index, input.Input.Label,
            MostPoints / findings.Inputs.Count)).ToList();
        return charts.Concat(findings.Inputs.Select((input, index) => WarmUp(record, index, input.Input.Label))).Append(Drift(record));
    }

    private static Chart Readings(StudyRecord record, int input, string label, int most)
    {
        var all = (from sitting in record.Sittings
                   let rounds = Math.Max(1, sitting.Rounds)
                   from reading in sitting.Readings
                   where reading.Cell >= 0 && reading.Cell < sitting.Cells.Count && reading.Calls > 0
                   let cell = sitting.Cells[reading.Cell]
                   where cell.Kind == CellKind.Variant && cell.Input == input && cell.Target == 0
                   select (cell.Variant, Point: new ChartPoint(
                       sitting.Number + (StretchOfSitting * ((double)reading.Round / rounds)) - (StretchOfSitting / 2),
                           reading.NanosecondsPerCall,
                       IsMuted: IsDisturbed(reading)))).ToList();
        var step = Math.Max(1, (int)Math.Ceiling((double)all.Count / Math.Max(1, most)));
        var kept = all.Where((_, index) => index % step == 0).Where(found => found.Point.Y > 0);
        return new Chart(
            "readings", $"Readings, sitting by sitting, {label}", new("sitting", ChartQuantity.Number),
                new("time per call", ChartQuantity.Time, IsLogarithmic: true),
            [.. kept.GroupBy(found => found.Variant).OrderBy(group => group.Key).Select(group => new ChartSeries(
                record.Study.Variants[group.Key].Name, ChartShape.Dots, [.. group.Select(found => found.Point)]))],
            "A pale point was disturbed: other work had the processor, code was compiled, or the collector came in."
                + (step > 1 ? $" One reading of {step} is drawn." : ""));
    }

    private static bool IsDisturbed(Reading reading)
        => reading.CompiledMethods > 0 || reading.CollectionsGen0 + reading.CollectionsGen1 + reading.CollectionsGen2 > 0
            || SignalCount.IsInterrupted(reading);

    private static Chart WarmUp(StudyRecord record, int input, string label)
    {
        var first = record.Sittings.FirstOrDefault(sitting => !sitting.IsApart);
        var curves = first?.WarmUps.Where(warm => warm.Cell >= 0 && warm.Cell < first.Cells.Count
            && first.Cells[warm.Cell] is { Kind: CellKind.Variant, Copy: 0, Target: 0 } cell
            && cell.Input == input).ToList() ?? [];
        return new Chart(
            "warmup", $"From the first call to full speed, {label}",
                new("time since its first call, ms", ChartQuantity.Number, IsLogarithmic: true),
            new("time per call", ChartQuantity.Time, IsLogarithmic: true),
            [.. curves.Select(warm => new ChartSeries(record.Study.Variants[first!.Cells[warm.Cell].Variant].Name, ChartShape.Line,
                [.. warm.Curve.Where(point => point is { Milliseconds: > 0, NanosecondsPerCall: > 0 })
                    .Select(point => new ChartPoint(point.Milliseconds, point.NanosecondsPerCall))]))],
            "Of the first sitting; steps are where the runtime put faster code in place.");
    }

    private static Chart Drift(StudyRecord record)
        => new(
            "drift", "How fast the machine ran, by the metronome", new("sitting", ChartQuantity.Number),
                new("a fixed chain of work", ChartQuantity.Time),
            [new ChartSeries("metronome", ChartShape.Dots,
                [.. from sitting in record.Sittings
                    from reading in sitting.Readings
                    where reading.Cell >= 0 && reading.Cell < sitting.Cells.Count && sitting.Cells[reading.Cell].Kind == CellKind.Metronome
                        && reading.Calls > 0
                    select new ChartPoint(sitting.Number
                        + (StretchOfSitting * ((double)reading.Round / Math.Max(1, sitting.Rounds))) - (StretchOfSitting / 2),
                        reading.NanosecondsPerCall, IsMuted: IsDisturbed(reading))])],
            "Contrasts do not hang on it: they are made within a round.");
}
