using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Uses;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Exports.Charts;

/// <summary>Figures of what was found: contrasts, growth, dials, uses, time beside bytes, stages, the machine's roof.</summary>
internal static class FindingCharts
{
    private static readonly Verdict[] Verdicts = [Verdict.Faster, Verdict.Slower, Verdict.Same, Verdict.Unclear];
    private const int UsesDrawn = 60;
    private const double BeyondBreakEven = 8;

    public static IEnumerable<Chart> Contrasts(StudyFindings findings)
    {
        var compared = findings.Inputs.SelectMany(input => input.Cells
            .Where(cell => cell.Contrast?.TimeRatio is { IsMeasured: true, Estimate: > 0 })
                .Select(cell => (Input: input.Input.Label, Cell: cell))).ToList();
        var names = compared.ConvertAll(pair => findings.Inputs.Count == 1 ? pair.Cell.Variant.Name
            : $"{pair.Cell.Variant.Name}, {pair.Input}");
        yield return new Chart(
            "contrasts", "Time as a multiple of the baseline's",
            new("baseline's time", ChartQuantity.Factor, IsLogarithmic: true), new("", ChartQuantity.Number, Categories: names),
            [.. compared.SelectMany((pair, place) => AtEachSpeed(pair.Cell.Contrast!).Select(found => (found.Verdict, found.Ratio,
                    Place: place)))
                .GroupBy(found => found.Verdict).OrderBy(group => Array.IndexOf(Verdicts, group.Key)).Select(group => new ChartSeries(
                group.Key.ToString().ToLowerInvariant(), ChartShape.Intervals,
                [.. group.Select(found => Along(found.Ratio, found.Place))]))],
            "Left of 1 is faster; an interval that reaches 1 settles nothing."
                + (compared.Exists(pair => pair.Cell.Contrast!.Speeds.Count > 0)
                    ? " What settles at several speeds has one at each." : ""));
    }

    // Where there are several, their mean is nowhere.
    private static IEnumerable<(Verdict Verdict, Interval Ratio)> AtEachSpeed(Contrast contrast)
        => contrast.Speeds.Count == 0 ? [(contrast.Verdict, contrast.TimeRatio)]
            : contrast.Speeds.Select(speed => (speed.Verdict, speed.TimeRatio));

    public static IEnumerable<Chart> Growth(StudyFindings findings)
        => findings.Growth.Select(growth => new Chart(
            "growth", $"Growth over {growth.Axis}{(growth.Where is { } where ? $", {where}" : "")}",
            new(growth.Axis, ChartQuantity.Number, IsLogarithmic: true), new("time per call", ChartQuantity.Time, IsLogarithmic: true),
            [.. growth.Variants.Select(variant => new ChartSeries(findings.Study.Variants[variant.Row].Name, ChartShape.Line,
                [.. variant.Points.Where(point => point.NanosecondsPerCall is { IsKnown: true, Estimate: > 0 })
                    .Select(point => Up(point.Size, point.NanosecondsPerCall))]))],
            growth.Crossovers.Count == 0 ? "No two lines are shown to cross."
                : "Cross: " + string.Join("; ", growth.Crossovers.Select(crossing
                    => $"{findings.Study.Variants[crossing.Below].Name}, then {findings.Study.Variants[crossing.Above].Name} from about "
                        + Quantity.Digits(crossing.Size.Estimate))) + "."));

    public static IEnumerable<Chart> Dials(StudyFindings findings)
        => findings.Dials.Where(dial => dial.Dials.Count == 1).Select(dial => new Chart(
            "dials", $"{dial.Variant} over its dial", new(dial.Dials[0], ChartQuantity.Number, IsLogarithmic: true),
            new("best setting's time", ChartQuantity.Factor),
            [.. dial.Inputs.Select(input => new ChartSeries(input.Input.Label, ChartShape.Line,
                [.. input.Settings.Where(setting => setting.IsBest || setting.TimeRatio.IsKnown)
                    .OrderBy(setting => setting.Settings[0].Value)
                    .Select(setting => setting.IsBest ? new ChartPoint(setting.Settings[0].Value, 1)
                        : Up(setting.Settings[0].Value, setting.TimeRatio))]))],
            "1 is the best setting on that input."));

    // Preparing and so many uses, beside as many uses of what needs no preparing.
    public static IEnumerable<Chart> Uses(StudyFindings findings)
        => from input in findings.Inputs
           where input.BreakEvens.Any(found => found.Answer == BreakEvenAnswer.After)
           let most = input.BreakEvens.Where(found => found.Answer == BreakEvenAnswer.After && double.IsFinite(found.Uses.Estimate))
               .Select(found => found.Uses.Estimate).DefaultIfEmpty(1).Max() * BeyondBreakEven
           let prepared = input.Cells.Where(cell => cell.Variant.Part == VariantPart.Prepare)
               .ToDictionary(cell => cell.Variant.Variant, cell => cell.NanosecondsPerCall.Estimate)
           select new Chart(
               "uses", $"Time for so many uses, {input.Input.Label}", new("uses", ChartQuantity.Number, IsLogarithmic: true),
               new("time for all", ChartQuantity.Time, IsLogarithmic: true),
               [.. input.Cells.Where(cell => cell.Variant.Part != VariantPart.Prepare
                   && cell.NanosecondsPerCall is { IsKnown: true, Estimate: > 0 })
                   .Select(cell => new ChartSeries(cell.Variant.Variant, ChartShape.Line, [.. Enumerable.Range(0, UsesDrawn).Select(step =>
                   {
                       var uses = Math.Pow(Math.Max(2, most), (double)step / (UsesDrawn - 1));
                       return new ChartPoint(uses, prepared.GetValueOrDefault(cell.Variant.Variant)
                           + (uses * cell.NanosecondsPerCall.Estimate));
                   })]))],
               "Where two lines cross, preparing has paid.");

    public static IEnumerable<Chart> Memory(StudyFindings findings)
    {
        var cells = findings.Inputs.SelectMany(input => input.Cells.Where(cell => cell.Failure is null && cell.NanosecondsPerCall.IsKnown
            && double.IsFinite(cell.AllocatedBytesPerCall)).Select(cell => (Input: input, Cell: cell))).ToList();
        if (cells.Exists(pair => pair.Cell.AllocatedBytesPerCall > 0))
        {
            yield return new Chart(
                "memory", "Time beside allocation", new("time per call", ChartQuantity.Time, IsLogarithmic: true),
                    new("bytes per call", ChartQuantity.Bytes),
                [.. cells.GroupBy(pair => pair.Cell.Variant.Name).Select(group => new ChartSeries(group.Key, ChartShape.Dots,
                    [.. group.Where(pair => pair.Cell.NanosecondsPerCall.Estimate > 0)
                        .Select(pair => new ChartPoint(pair.Cell.NanosecondsPerCall.Estimate, pair.Cell.AllocatedBytesPerCall))]))],
                "One point for each input; lower left is better.");
        }
    }

    public static IEnumerable<Chart> Stages(StudyFindings findings)
        => findings.Inputs.Where(input => input.Cells.Any(cell => cell.Stages.Count > 0)).Select(input =>
        {
            var cells = input.Cells.Where(cell => cell.Stages.Count > 0).ToList();
            var stages = cells.SelectMany(cell => cell.Stages).Select(stage => stage.Stage)
                .Where(stage => !stage.Contains('›', StringComparison.Ordinal)).Distinct().ToList();
            double Time(CellFindings cell, string stage)
                => cell.Stages.Where(found => found.Stage == stage).Sum(found => found.NanosecondsPerCall.Estimate);
            return new Chart(
                "stages", $"Where the time goes, {input.Input.Label}", new("time per call", ChartQuantity.Time),
                new("", ChartQuantity.Number, Categories: [.. cells.Select(cell => cell.Variant.Name)]),
                [
                    .. stages.Select(stage => new ChartSeries(stage, ChartShape.Bars,
                        [.. cells.Select((cell, place) => new ChartPoint(Time(cell, stage), place))])),
                    new ChartSeries("outside", ChartShape.Bars, [.. cells.Select((cell, place) => new ChartPoint(
                        Math.Max(0, cell.NanosecondsPerCall.Estimate - stages.Sum(stage => Time(cell, stage))), place))]),
                ],
                "Each bar is a call, stage behind stage.");
        });

    // What the machine can do at most, and how near a variant comes that declares bytes and operations.
    public static IEnumerable<Chart> Roof(Run run, StudyFindings findings)
    {
        if (run.Limits is not { Memory.Count: > 0, OperationsPerSecond: > 0 } limits)
        {
            yield break;
        }

        double Rate(CellFindings cell, string quantity)
            => cell.Rates.FirstOrDefault(rate => rate.Quantity == quantity)?.PerSecond.Estimate ?? double.NaN;
        var points = findings.Inputs.SelectMany(input => input.Cells)
            .Select(cell => (cell.Variant.Name, Bytes: Rate(cell, "bytes"), Operations: Rate(cell, "operations")))
            .Where(point => point.Bytes > 0 && point.Operations > 0).ToList();
        if (points.Count == 0)
        {
            yield break;
        }

        var slopes = limits.Memory.Select(memory => limits.OperationsPerSecond / memory.BytesPerSecond).ToList();
        var (left, right) = (Math.Min(slopes.Min(), points.Min(point => point.Operations / point.Bytes)) / 4,
            Math.Max(slopes.Max(), points.Max(point => point.Operations / point.Bytes)) * 4);
        yield return new Chart(
            "roof", "What this machine can do at most", new("operations for each byte", ChartQuantity.Number, IsLogarithmic: true),
            new("operations a second", ChartQuantity.Rate, IsLogarithmic: true),
            [
                .. limits.Memory.Select((memory, index) => new ChartSeries($"roof: {memory.Level}", ChartShape.Line,
                    [new(left, left * memory.BytesPerSecond), new(slopes[index], limits.OperationsPerSecond),
                        new(right, limits.OperationsPerSecond)])),
                .. points.GroupBy(point => point.Name)
                    .Select(group => new ChartSeries(group.Key, ChartShape.Dots,
                    [.. group.Select(point => new ChartPoint(point.Operations / point.Bytes, point.Operations))])),
            ],
            "Under the slope memory is the limit, under the level arithmetic.");
    }

    // One sitting has no interval yet.
    private static ChartPoint Along(Interval x, double y)
        => x is { IsBounded: true, Lower: > 0 } ? new(x.Estimate, y, x.Lower, x.Upper) : new(x.Estimate, y);

    private static ChartPoint Up(double x, Interval y)
        => y is { IsBounded: true, Lower: > 0 } ? new(x, y.Estimate, y.Lower, y.Upper) : new(x, y.Estimate);
}
