using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Gates;
using Tachyscope.Analysis.Limits;
using Tachyscope.Analysis.Statistics;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Histories;

/// <summary>Says whether a gate is open, and what closes it. Pure.</summary>
public static class GateReporter
{
    private const int Named = 3;

    /// <summary>The whole of it; what is kept is counted only.</summary>
    /// <param name="judged">What was found of each cell.</param>
    /// <param name="against">What the cells are held against.</param>
    /// <param name="others">What else closes it, such as a limit that is broken; none is fine.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static HistoryReport Of(IReadOnlyList<GateJudgement> judged, string against, IReadOnlyList<string> others)
    {
        ArgumentNullException.ThrowIfNull(judged);
        ArgumentNullException.ThrowIfNull(against);
        ArgumentNullException.ThrowIfNull(others);
        var failed = judged.Count(cell => cell.IsFailure) + others.Count;
        var open = judged.Where(cell => cell is { IsFailure: false, Answer: GateAnswer.Unclear })
            .Select(cell => $"{Name(cell)} {Between(cell.Cell.TimeRatio)}".TrimEnd()).ToList();
        var unclear = judged.Count(cell => cell.Answer == GateAnswer.Unclear);
        var kept = judged.Count(cell => cell is { Answer: GateAnswer.Kept, IsMoreAllocated: false });
        string[] counted =
        [
            .. failed > 0 ? [$"{Quantity.Count(failed)} of {Quantity.Count(judged.Count + others.Count)} object"] : (string[])[],
            .. judged.Count > 0
                ? [$"{Quantity.Count(kept)} of {RunWords.Counted(judged.Count, "cell")} shown to be no slower than allowed against "
                    + $"{against}"]
                : (string[])[],
            .. unclear > 0 ? [$"{Quantity.Count(unclear)} not told in the time allowed"] : (string[])[],
        ];
        return new HistoryReport
        {
            Parts = [new HistoryPart("gate",
                [
                    .. judged.Where(cell => cell.IsFailure)
                        .SelectMany(cell => Objections(cell).Select(objection => (Tone.Failed, $"{Name(cell)} {objection.Text}"))),
                    .. open.Count > 0 ? [(Tone.Open, $"not told: {Wording.Some(open, Named)}")] : ((Tone, string)[])[],
                    .. others.Select(other => (Tone.Failed, other)),
                    (failed > 0 ? Tone.Failed
                        : Tone.Good, $"{(failed > 0 ? "closed" : "open")}{(counted.Length == 0 ? "" : ": ")}{string.Join(", ", counted)}"),
                ], null, [])],
        };
    }

    /// <summary>What closes the gate in a cell, by the name of its rule and in words; one for its allocation and one for its
    /// time.</summary>
    /// <param name="judged">What was found.</param>
    public static IEnumerable<(string Rule, string Text)> Objections(GateJudgement judged)
    {
        ArgumentNullException.ThrowIfNull(judged);
        var (cell, margin) = (judged.Cell, Quantity.Percent(judged.Rule.MarginShare));
        if (cell.Work is { } work)
        {
            yield return ("other-work", $"did other work ({RunWords.Work(work)}), so that its time cannot be held against what it was; "
                + "where that is meant, save a run as it is now and hold it against that");
        }

        if (judged.IsMoreAllocated)
        {
            yield return ("allocates-more", $"allocates {Quantity.Bytes(cell.Bytes)} where it was {Quantity.Bytes(cell.BytesBefore)}");
        }

        if (judged.Answer == GateAnswer.Slower)
        {
            yield return ("slower", $"got slower, {Quantity.FactorOnly(cell.TimeRatio)}, at least {Change(cell.TimeRatio.Lower)} time, "
                + $"where {margin} is allowed");
        }

        if (judged is { Answer: GateAnswer.Unclear, Rule.IsUnclearFailure: true })
        {
            string[] told = ["is not told", Between(cell.TimeRatio), $"where {margin} is allowed"];
            yield return ("not-told", string.Join(", ", told.Where(part => part.Length > 0)));
        }
    }

    /// <summary>
    /// What any check objects to in a cell, by the name of its rule and in words: that it failed, and limits that are broken or not shown
    /// to be kept.
    /// </summary>
    /// <param name="input">What was found on its input.</param>
    /// <param name="cell">What was found of it.</param>
    public static IEnumerable<(string Rule, string Text)> Objections(InputFindings input, CellFindings cell)
    {
        ArgumentNullException.ThrowIfNull(input);
        ArgumentNullException.ThrowIfNull(cell);
        if (cell.Failure is { Kind: not CellFailureKind.Missing } failure)
        {
            yield return ("failed", $"{failure.Kind.ToString().ToLowerInvariant()}: {failure.Reason}");
        }

        foreach (var limit in input.Limits.Where(limit => limit.Row == cell.Row && limit.State is (LimitState.Broken or LimitState.Unsure)))
        {
            var isUnsure = limit.State == LimitState.Unsure;
            var used = Quantity.Known(limit.Used, amount => LimitText.Amount(limit.Quantity, amount));
            yield return (isUnsure ? "limit-unsure" : "limit-broken",
                $"{LimitText.Word(limit.Quantity)} per call {used} where {LimitText.Amount(limit.Quantity, limit.Allowed)} is allowed"
                    + (isUnsure ? ", by the upper end of its interval" : ""));
        }
    }

    // One end decides, so that ends are told and no reach.
    private static string Between(Interval ratio) => !ratio.IsKnown ? ""
        : ratio.IsBounded ? $"{Change(ratio.Lower)} to {Change(ratio.Upper)} time" : Quantity.Factor(ratio);

    private static string Change(double ratio) => $"{Quantity.Percent(Math.Abs(ratio - 1))} {(ratio < 1 ? "less" : "more")}";

    private static string Name(GateJudgement judged) => $"{judged.Cell.Study} · {judged.Cell.Variant} · {judged.Cell.Input}";
}
