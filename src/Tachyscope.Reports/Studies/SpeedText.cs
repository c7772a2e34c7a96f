using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Speeds;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Studies;

/// <summary>Figures of what settles at several speeds: each by itself, and never their mean.</summary>
public static class SpeedText
{
    private const int ValuesNamed = 3;

    /// <summary>Time per call, such as "78.2 ns or 122 ns" where it has two speeds.</summary>
    /// <param name="cell">What was found of a cell that was timed.</param>
    /// <exception cref="ArgumentNullException"><paramref name="cell"/> is null.</exception>
    public static string Time(CellFindings cell)
    {
        ArgumentNullException.ThrowIfNull(cell);
        return cell.Speeds.Count == 0 ? Quantity.Time(cell.NanosecondsPerCall)
            : Wording.List([.. cell.Speeds.Select(speed => Quantity.Time(speed.NanosecondsPerCall.Estimate))], "or");
    }

    /// <summary>Its factor, such as "÷ 2.56 or ÷ 1.64".</summary>
    /// <param name="contrast">The contrast.</param>
    /// <exception cref="ArgumentNullException"><paramref name="contrast"/> is null.</exception>
    public static string Factor(Contrast contrast)
    {
        ArgumentNullException.ThrowIfNull(contrast);
        return Several(contrast) is not { } ratios ? Quantity.Factor(contrast.TimeRatio)
            : Wording.List([.. ratios.Select(Quantity.Factor).Distinct()], "or");
    }

    /// <summary>The share of the other's time it saves.</summary>
    internal static string Saved(Contrast contrast) => Several(contrast) is not { } ratios ? Quantity.Percent(contrast.ShareSaved)
        : Wording.List([.. ratios.Select(ratio => Quantity.Percent(1 - ratio)).Distinct()], "or");

    /// <summary>The tables of a study's input; none where all have one speed.</summary>
    /// <param name="cells">The rows.</param>
    /// <param name="copies">Copies of the code that each process called.</param>
    internal static IEnumerable<FigureTable> Tables(IReadOnlyList<CellFindings> cells, int copies)
    {
        var (several, places) = (cells.Where(cell => cell.Speeds.Count > 0).ToList(), copies > 1 ? "placements" : "processes");
        if (several.Count > 0)
        {
            yield return new FigureTable
            {
                Title = "several speeds",
                Of = "variant",
                Headings = ["time per call", $"in so many {places}", "chance", .. several.Exists(cell => cell.SpeedCause is not null)
                    ? ["goes along with"] : (string[])[]],
                AreFiguresWords = true,
                Rows = [.. several.SelectMany(cell => Rows(cell, several.Exists(other => other.SpeedCause is not null)))],
            };
        }

        var compared = cells.Where(cell => cell.Contrast is { Speeds.Count: > 0 }).ToList();
        if (compared.Count > 0)
        {
            yield return new FigureTable
            {
                Title = "compared at each speed",
                Of = "variant",
                Headings = ["its speed", "the other's", places, "baseline's time", "verdict"],
                Rows = [.. compared.SelectMany(cell => cell.Contrast!.Speeds.Select(
                    speed => Row(cell, cells.FirstOrDefault(other => other.Row == cell.Contrast.Other), speed)))],
            };
        }
    }

    /// <summary>That there were too few sittings to tell speeds apart; null where there were enough.</summary>
    internal static string? TooFew(StudyFindings study)
        => study.Sittings >= SpeedJudge.FewestPlacements || study.Inputs.Any(input => input.Cells.Any(cell => cell.Placements > 0)) ? null
            : Wording.Invariant($"several speeds are told from {SpeedJudge.FewestPlacements} sittings on, and there ")
                + Wording.Invariant($"{(study.Sittings == 1 ? "was one" : $"were {study.Sittings}")}; ")
                + "give it longer with --within";

    // At each speed of both, the least first; null where both have one.
    private static List<double>? Several(Contrast contrast)
        => contrast.Speeds.Count == 0 ? null : [.. contrast.Speeds.Select(speed => speed.TimeRatio.Estimate).Order()];

    private static IEnumerable<FigureRow> Rows(CellFindings cell, bool isAnyCaused)
    {
        for (var speed = 0; speed < cell.Speeds.Count; speed++)
        {
            var (found, cause) = (cell.Speeds[speed], cell.SpeedCause is null ? "" : Cause(cell.SpeedCause, speed));
            yield return Row(Quantity.Time(found.NanosecondsPerCall), found.Placements,
                Wording.Invariant($"{100 * found.Chance.Lower:0} to {100 * found.Chance.Upper:0} %"), cause);
        }

        if (cell.Placements - cell.Speeds.Sum(speed => speed.Placements) is > 0 and var astray)
        {
            yield return Row("at none of these", astray, "", "");
        }

        FigureRow Row(string time, int placements, string chance, string cause) => new(
            cell.Variant.Name,
            [time, Wording.Invariant($"{placements} of {cell.Placements}"), chance, .. isAnyCaused ? [cause] : (string[])[]]);
    }

    private static string Cause(SpeedCause cause, int speed)
    {
        var values = cause.Values[speed];
        return cause.Kind switch
        {
            SpeedCauseKind.Inlining => Wording.List([.. values.Select(value => value == 1 ? "part of its loop" : "called by its loop")],
                "or"),
            SpeedCauseKind.Compilation => $"{Numbers(values)} bytes of code{Whose(cause)}",
            SpeedCauseKind.CodePlacement => $"code{Whose(cause)} {Numbers(values)} bytes into a cache line",
            _ => $"input {Numbers(values)} bytes into a cache line",
        };
    }

    // Of a callee its type's last part and its name will do.
    private static string Whose(SpeedCause cause)
        => cause.Of is null ? ""
            : $" of {cause.Of[(cause.Of[..cause.Of.IndexOf(':', StringComparison.Ordinal)].LastIndexOf('.') + 1)..].Replace(':', '.')}";

    private static string Numbers(IReadOnlyList<int> values)
        => Wording.List([.. values.Take(ValuesNamed).Select(value => Wording.Invariant($"{value}")),
            .. values.Count > ValuesNamed ? ["others"] : (string[])[]],
            "or");

    private static FigureRow Row(CellFindings cell, CellFindings? other, SpeedContrast speed) => new(
        cell.Variant.Name,
        [
            At(cell, speed.Speed), other is null ? "" : At(other, speed.OtherSpeed), Wording.Invariant($"{speed.Placements}"),
            Quantity.Factor(speed.TimeRatio), StudyReporter.Word(speed.Verdict),
        ]);

    private static string At(CellFindings cell, int speed)
        => Quantity.Time((cell.Speeds.Count == 0 ? cell.NanosecondsPerCall : cell.Speeds[speed].NanosecondsPerCall).Estimate);
}
