using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Dials;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Growth;
using Tachyscope.Analysis.Limits;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Analysis.Uses;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Studies;

/// <summary>The tables that answer what goes beyond one input: growth, dials, break-evens, limits, stages. Pure.</summary>
internal static class AnswerReporter
{
    private const int PairsShown = 12;

    public static IEnumerable<FigureTable> Of(StudyFindings findings, ReportOptions options)
    {
        (Block Block, IEnumerable<FigureTable> Tables)[] all =
        [
            (Block.Growth, findings.Growth.SelectMany(growth => Growth(findings.Study, growth))),
            (Block.Dials, findings.Dials.SelectMany(Dial)),
            (Block.Uses, BreakEvens(findings)),
            (Block.Stages, Stages(findings)),
            (Block.Limits, Limits(findings)),
        ];
        return all.Where(block => options.Has(block.Block)).SelectMany(block => block.Tables);
    }

    /// <summary>Every pair of rows of one input, each row's time as a multiple of the column's.</summary>
    public static IEnumerable<FigureTable> Pairs(StudyDescription study, InputFindings input)
        => input.Pairs.GroupBy(pair => study.Variants[pair.Row].Loop.Threads).Select(group =>
        {
            var found = group.Concat(group.Select(pair => pair.Reversed())).ToDictionary(pair => (pair.Row, pair.Other));
            int[] rows = [.. found.Keys.Select(pair => pair.Row).Distinct().Order()];
            return new FigureTable
            {
                Title = "the column's time",
                Of = "variant",
                Headings = [.. rows.Select(row => study.Variants[row].Name)],
                AreHeadingsNames = true,
                Rows = [.. rows.Select(row => new FigureRow(study.Variants[row].Name,
                    [.. rows.Select(other => row == other ? "·" : Pair(found[(row, other)]))]))],
            };
        });

    public static string Title(GrowthFindings growth)
        => $"growth over {growth.Axis}{(growth.Where is { } where ? $", {where}" : "")}"
            + (growth.Threads is { } threads ? $", {Wording.Threads(threads)}" : "");

    private static string Pair(PairContrast pair) => $"{Quantity.FactorOnly(pair.TimeRatio)} {Sign(pair.Verdict)}";

    public static string Sign(Verdict verdict) => verdict switch
    {
        Verdict.Faster => Tone.Good.Sign(),
        Verdict.Slower => Tone.Bad.Sign(),
        Verdict.Same => Tone.Even.Sign(),
        _ => Tone.Open.Sign(),
    };

    private static string[] Law(VariantGrowth variant) =>
    [
        variant.Law is { } law ? Wording.Law(law) : "",
        variant.Law is { Law: not GrowthLaw.None } fitted ? Quantity.Percent(fitted.WorstShare) : "",
        string.Join(", ", variant.AlsoFitting.Select(Wording.Law)),
    ];

    private static IEnumerable<FigureTable> Growth(StudyDescription study, GrowthFindings growth)
    {
        var isLawKnown = growth.Variants.Any(variant => variant.Law is not null);
        var areOthersFitting = growth.Variants.Any(variant => variant.AlsoFitting.Count > 0);
        if (growth.Variants.Any(variant => variant.Exponent.IsKnown))
        {
            yield return new FigureTable
            {
                Title = Title(growth),
                Of = "variant",
                Headings = isLawKnown
                    ? ["exponent", "grows as", "off by at most", .. areOthersFitting ? (string[])["these sizes do not rule out"] : []]
                    : ["exponent"],
                Rows = [.. growth.Variants.Select((variant, index) => new FigureRow(
                    $"{GrowthChart.Letter(index)}  {study.Variants[variant.Row].Name}",
                    [
                        Quantity.Number(variant.Exponent.Estimate, variant.Exponent.HalfWidth),
                        .. isLawKnown ? Law(variant)[..(areOthersFitting ? 3 : 2)] : [],
                    ]))],
            };
        }

        if (growth.Crossovers.Count > 0)
        {
            // Those that decide which to take come first, then those with the baseline.
            bool IsTaken(int row) => growth.Bands.Any(band => band.Row == row);
            bool IsBaseline(int row) => study.Variants[row].IsBaseline;
            var shown = growth.Crossovers
                .OrderByDescending(crossover => IsTaken(crossover.Below) && IsTaken(crossover.Above))
                .ThenByDescending(crossover => IsBaseline(crossover.Below) || IsBaseline(crossover.Above))
                .Take(PairsShown).ToList();
            var more = growth.Crossovers.Count - shown.Count;
            yield return new FigureTable
            {
                Title = "faster below, then above",
                Of = "variants",
                Headings = [$"cross at, {growth.Axis}", "between sizes measured"],
                Rows =
                [
                    .. shown.Select(crossover => new FigureRow(
                        $"{study.Variants[crossover.Below].Name}, then {study.Variants[crossover.Above].Name}",
                        [Wording.About(crossover.Size),
                            $"{Quantity.Count(crossover.LastBelow)} and {Quantity.Count(crossover.FirstAbove)}"])),
                    .. more > 0 ? [new FigureRow(Wording.Invariant($"and {more} more"), ["", ""])] : (FigureRow[])[],
                ],
            };
        }
    }

    private static IEnumerable<FigureTable> Dial(DialFindings dial)
    {
        var name = dial.Threads is { } threads ? $"{dial.Variant}, {Wording.Threads(threads)}" : dial.Variant;
        if (dial.Dials.Count == 1)
        {
            var settings = dial.Inputs.SelectMany(input => input.Settings).Select(setting => setting.Settings[0].Value).Distinct().ToList();
            yield return new FigureTable
            {
                Title = $"{name}: over the best",
                Of = "input",
                Headings = [.. settings.Select(setting => $"{dial.Dials[0]} {Quantity.Count(setting)}")],
                Rows = [.. dial.Inputs.Select(input => new FigureRow(
                    input.Input.Label,
                    [.. settings.Select(value => Loss(input.Settings.FirstOrDefault(setting => setting.Settings[0].Value == value)))]))],
            };
            yield break;
        }

        foreach (var input in dial.Inputs)
        {
            var columns = input.Settings.Select(setting => setting.Settings[1].Value).Distinct().ToList();
            yield return new FigureTable
            {
                Title = $"{name}, {input.Input.Label}: over the best",
                Of = dial.Dials[0],
                Headings = [.. columns.Select(value => $"{dial.Dials[1]} {Quantity.Count(value)}")],
                Rows = [.. input.Settings.GroupBy(setting => setting.Settings[0].Value).Select(row => new FigureRow(
                    $"{dial.Dials[0]} {Quantity.Count(row.Key)}",
                        [.. columns.Select(value => Loss(row.FirstOrDefault(setting => setting.Settings[1].Value == value)))]))],
            };
        }
    }

    private static string Loss(SettingFindings? setting) => setting switch
    {
        null => Quantity.Absent,
        { IsBest: true } => "best",
        { TimeRatio.IsMeasured: false } => $"{(setting.IsTied ? "= best, " : "")}{Quantity.FactorOnly(setting.TimeRatio)}",
        { IsTied: true } => $"= best, {Wording.Signed(setting.TimeRatio.Estimate - 1)}",
        _ => Wording.Signed(setting.TimeRatio.Estimate - 1),
    };

    private static IEnumerable<FigureTable> BreakEvens(StudyFindings findings)
    {
        var inputs = findings.Inputs.Where(input => input.BreakEvens.Count > 0).ToList();
        var pairs = inputs.SelectMany(input => input.BreakEvens).Select(found => (found.Row, found.Other)).Distinct().ToList();
        if (pairs.Count > 0)
        {
            yield return new FigureTable
            {
                Title = "uses after which preparing has paid",
                Of = "variants",
                Headings = [.. inputs.Select(input => input.Input.Label)],
                Rows = [.. pairs.Select(pair => new FigureRow(
                    $"{Prepared(findings.Study.Variants[pair.Row])} over {Prepared(findings.Study.Variants[pair.Other])}",
                    [.. inputs.Select(input => input.BreakEvens.FirstOrDefault(found => (found.Row, found.Other) == pair) is { } found
                        ? Uses(found)
                        : Quantity.Absent)]))],
            };
        }
    }

    private static string Prepared(VariantDescription row) => row.Part == VariantPart.Use ? row.Variant : row.Name;

    public static string Uses(BreakEven found) => found.Answer switch
    {
        BreakEvenAnswer.Always => "1",
        BreakEvenAnswer.Never => "never",
        BreakEvenAnswer.After when found.Uses.Bound == Bound.AtMost => UsesRange(found),
        BreakEvenAnswer.After => $"{Quantity.Whole(found.Uses.Estimate)} ({UsesRange(found)})",
        _ when found.Uses is { Bound: Bound.None, Lower: > 1 } => $"not before {Quantity.Whole(found.Uses.Lower)}",
        _ => "cannot tell",
    };

    public static string UsesRange(BreakEven found) => found.Uses.Bound == Bound.AtMost ? $"at most {Quantity.Whole(found.Uses.Upper)}"
        : Quantity.Range(Quantity.Whole(found.Uses.Lower), Quantity.Whole(found.Uses.Upper));

    private static IEnumerable<FigureTable> Stages(StudyFindings findings)
    {
        var compared = findings.Inputs.SelectMany(input => input.Cells.Where(cell => cell.Contrast is { Stages.Count: > 0 })
            .Select(cell => (Input: input, Cell: cell))).ToList();
        if (compared.Count > 0)
        {
            yield return new FigureTable
            {
                Title = "where the difference lies",
                Of = "variant, input: stage",
                Headings = ["saved/call", "share of the difference"],
                Rows = [.. compared.SelectMany(pair => pair.Cell.Contrast!.Stages.Select(stage => new FigureRow(
                    $"{pair.Cell.Variant.Name}, {pair.Input.Input.Label}: {stage.Stage ?? "outside"}",
                    [Quantity.Saved(stage.SavedNanosecondsPerCall), Quantity.Percent(stage.ShareOfDifference.Estimate)])))],
            };
        }
    }

    private static IEnumerable<FigureTable> Limits(StudyFindings findings)
    {
        var limits = findings.Inputs.SelectMany(input => input.Limits.Select(limit => (Input: input, Limit: limit))).ToList();
        if (limits.Count > 0)
        {
            yield return new FigureTable
            {
                Title = "limits",
                Of = "variant, input",
                Headings = ["of", "allowed", "used", "share used at most", "kept"],
                Rows = [.. limits.GroupBy(found => (found.Limit.Quantity, found.Limit.Allowed))
                    .SelectMany(limit => LimitRows(findings.Study, [.. limit]))],
            };
        }
    }

    // All that are not kept, and of those kept the one that uses most.
    private static IEnumerable<FigureRow> LimitRows(StudyDescription study, List<(InputFindings Input, LimitFindings Limit)> limits)
    {
        var kept = limits.Where(found => found.Limit.State == LimitState.Kept).OrderByDescending(found => found.Limit.ShareUsed).ToList();
        foreach (var (input, limit) in limits.Where(found => found.Limit.State != LimitState.Kept).Concat(kept.Take(1)))
        {
            var isForOthers = limit.State == LimitState.Kept && kept.Count > 1;
            yield return new FigureRow(
                $"{study.Variants[limit.Row].Name}, {input.Input.Label}"
                    + (isForOthers ? Wording.Invariant($", and {kept.Count - 1} that use less") : ""),
                [LimitText.Word(limit.Quantity), LimitText.Amount(limit.Quantity, limit.Allowed),
                    Quantity.Known(limit.Used, used => LimitText.Amount(limit.Quantity, used)), ShareText(limit), Word(limit.State)]);
        }
    }

    public static string ShareText(LimitFindings limit)
        => limit.State == LimitState.Unknown ? Quantity.Absent : double.IsPositiveInfinity(limit.ShareUsed) ? "beyond"
            : Quantity.Percent(limit.ShareUsed);

    private static string Word(LimitState state) => state switch
    {
        LimitState.Kept => "yes",
        LimitState.Unknown => "cannot tell",
        LimitState.Unsure => "not shown to be",
        _ => "NO",
    };
}
