using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Conclusions;

/// <summary>
/// How near the fastest variant comes to what the machine reads and computes at most, where the study declares bytes or operations and
/// the machine's limits were measured (Williams, Waterman, Patterson: Roofline, 2009).
/// </summary>
internal static class RoofSentences
{
    // Readers that do little else reach nine tenths of what the survey reads at best.
    private const double Near = 0.75;
    private const double Far = 0.5;

    public static IEnumerable<Sentence> Of(StudyWords words)
    {
        var fastest = words.Findings.Inputs.Select(Fastest).OfType<CellOnInput>().ToList();
        var near = fastest.SelectMany(found => found.Shares.Where(rate => rate.LimitShare!.Value.Lower >= Near)
            .Select(rate => (found.Input, found.Cell, Rate: rate))).ToList();
        if (near.Count > 0)
        {
            return near.GroupBy(found => (found.Cell.Row, found.Rate.Limit)).OrderByDescending(group => group.Count()).Take(1)
                .Select(group => AtTheRoof(words, [.. group]));
        }

        var all = fastest.SelectMany(found => found.Shares).Select(rate => rate.LimitShare!.Value).ToList();
        return all.Count > 0 && all.TrueForAll(share => share.Upper < Far) ? [FarFromIt(words, fastest)] : [];
    }

    private static Sentence AtTheRoof(StudyWords words, List<(InputFindings Input, CellFindings Cell, RateFindings Rate)> near)
    {
        var least = near.MinBy(found => found.Rate.LimitShare!.Value.Lower);
        var share = least.Rate.LimitShare!.Value;
        var on = words.On([.. near.Select(found => found.Input)]);
        var (does, same) = least.Rate.Quantity == "bytes"
            ? ($"reads at least {Quantity.Percent(share.Lower)} of what a processor of this machine can read from {least.Rate.Limit}",
                "what reads as many bytes can hardly be faster, whatever it does with them")
            : ($"does at least {Quantity.Percent(share.Lower)} of the arithmetic that a processor of this machine can do",
                "what computes as much can hardly be faster");
        return Sentence.Of(Question.Roof, $"{words.Name(least.Cell.Row)} {does}{on}: {same}", share);
    }

    private static Sentence FarFromIt(StudyWords words, List<CellOnInput> fastest)
    {
        var most = fastest.SelectMany(found => found.Shares).GroupBy(rate => rate.Limit)
            .Select(group => group.MaxBy(rate => rate.LimitShare!.Value.Upper)!).ToList();
        var limits = string.Join(" and ", most.Select(rate => $"at most {Quantity.Percent(rate.LimitShare!.Value.Upper)} of what "
            + (rate.Quantity == "bytes" ? $"{rate.Limit} gives" : "this machine computes")));
        var rows = fastest.Select(found => found.Cell.Row).Distinct().ToList();
        var (who, them) = rows.Count == 1 ? ($"{words.Name(rows[0])} uses", "it") : ("the fastest variants use", "them");
        return Sentence.Of(Question.Roof, $"{who} {limits}: what keeps {them} waiting lies elsewhere",
            most.Select(rate => rate.LimitShare!.Value));
    }

    private static CellOnInput? Fastest(InputFindings input)
    {
        var cell = input.Cells.Where(cell => cell.Failure is null && cell.NanosecondsPerCall is { IsMeasured: true, IsBounded: true })
            .MinBy(cell => cell.NanosecondsPerCall.Estimate);
        var shares = cell?.Rates.Where(rate => rate.LimitShare is not null).ToList();
        return shares is { Count: > 0 } ? new CellOnInput(input, cell!, shares) : null;
    }

    private sealed record CellOnInput(InputFindings Input, CellFindings Cell, List<RateFindings> Shares);
}
