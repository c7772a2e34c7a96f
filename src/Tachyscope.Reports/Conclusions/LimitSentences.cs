using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Limits;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Conclusions;

/// <summary>Which declared limits are broken, which are not shown to be kept, and how much is used where all are.</summary>
internal static class LimitSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
    {
        var limits = words.Findings.Inputs.SelectMany(input => input.Limits.Select(limit => (Input: input, Limit: limit))).ToList();
        var missed = limits.Where(found => found.Limit.State is LimitState.Broken or LimitState.Unsure)
            .GroupBy(found => (found.Limit.Row, found.Limit.Quantity, found.Limit.Allowed, found.Limit.State))
            .OrderByDescending(group => group.Max(found => found.Limit.ShareUsed)).ToList();
        foreach (var group in missed.Take(StudyWords.NamesListed))
        {
            yield return Sentence.Of(Question.Limit, Missed(words, [.. group]), group.Select(found => found.Limit.Used));
        }

        if (missed.Count > StudyWords.NamesListed)
        {
            var more = missed.Count - StudyWords.NamesListed;
            yield return Sentence.Of(Question.Limit, Wording.Invariant($"{more} more {(more == 1 ? "limit is" : "limits are")} not kept"));
        }

        if (limits.Exists(found => found.Limit.State == LimitState.Unknown))
        {
            yield return Sentence.Of(Question.Limit, "whether limits are kept cannot be told from a single sitting");
        }

        if (limits.Count > 0 && limits.TrueForAll(found => found.Limit.State == LimitState.Kept))
        {
            var (input, most) = limits.MaxBy(found => found.Limit.ShareUsed);
            var used = $"{AnswerReporter.ShareText(most)} of {LimitText.Amount(most.Quantity, most.Allowed)}";
            yield return Sentence.Of(
                Question.Limit, $"every limit is kept; {words.Name(most.Row)} uses most of its own, at most {used}{words.On(input)}",
                    most.Used);
        }
    }

    private static string Missed(StudyWords words, List<(InputFindings Input, LimitFindings Limit)> group)
    {
        var worst = group.MaxBy(found => found.Limit.Used.Upper).Limit;
        var on = words.On([.. group.Select(found => found.Input)]);
        var used = $"{LimitText.Amount(worst.Quantity, worst.Used.Estimate)} of the {LimitText.Amount(worst.Quantity, worst.Allowed)} "
            + "allowed";
        var limit = $"its limit of {LimitText.Word(worst.Quantity)}{on}: {used}";
        return worst.State == LimitState.Broken
            ? $"{words.Name(worst.Row)} breaks {limit}"
            : $"{words.Name(worst.Row)} is not shown to keep {limit}, and up to {AnswerReporter.ShareText(worst)} of it by the interval";
    }
}
