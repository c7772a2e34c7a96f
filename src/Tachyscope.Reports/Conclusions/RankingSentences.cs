using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Conclusions;

/// <summary>Which variants nothing is shown to be faster than, where the decision has not said it.</summary>
internal static class RankingSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
        => words.Findings.Sittings < 2 ? [] : words.Threads.SelectMany(threads => OfThreads(words, threads));

    private static IEnumerable<Sentence> OfThreads(StudyWords words, int? threads)
    {
        // The decision has said it: one variant is the fastest everywhere, or each on its sizes.
        if (DecisionSentences.AreBySize(words, threads)
            || words.Findings.Decisions.Any(decision => decision.Threads == threads && decision.IsFastest
                && decision.Inputs == words.Findings.Inputs.Count))
        {
            return [];
        }

        var leading = words.Findings.Inputs.Select(input => (Input: input, Leaders: Leaders(input, threads)))
            .Where(found => found.Leaders.Count > 0).ToList();
        var groups = leading.GroupBy(found => string.Join(',', found.Leaders.Order())).ToList();
        // One line for each set of leaders; of many, the largest.
        return groups.OrderByDescending(group => group.Count()).Take(StudyWords.PlacesListed)
            .Select(group => Sentence.Of(
                Question.Ranking, StudyWords.With(threads, Ahead(words, [.. group.Select(found => found.Input)], group.First().Leaders))));
    }

    // What nothing is shown to be faster than, by its estimate.
    private static List<int> Leaders(InputFindings input, int? threads)
        => [.. input.Cells.Where(cell => cell.Place is { First: 1 } && cell.Variant.Loop.Threads == threads)
            .OrderBy(cell => cell.NanosecondsPerCall.Estimate).Select(cell => cell.Row)];

    private static string Ahead(StudyWords words, List<InputFindings> inputs, List<int> leaders)
    {
        var on = words.On(inputs);
        var ranked = inputs.Max(input => input.Cells.Count(cell => cell.Place is not null
            && cell.Variant.Loop.Threads == words.Study.Variants[leaders[0]].Loop.Threads));
        var (gain, _) = words.Gain(inputs, leaders[0]);
        if (leaders.Count == 1)
        {
            return inputs.TrueForAll(input => input.Cells.Any(cell => cell.Row == leaders[0] && cell.Place is { Last: 1 }))
                ? $"{words.Name(leaders[0])} is fastest{on}{gain}"
                : $"nothing is shown to be faster than {words.Name(leaders[0])}{on}{gain}";
        }

        if (AreAlike(inputs, leaders))
        {
            return $"{words.Names(leaders)} take the same time within {Quantity.Percent(words.Findings.MarginShare)}{on}{(leaders.Count == ranked ? "" : ", and nothing is faster")}";
        }

        var rest = leaders.Count == ranked
            ? ""
            : $"{Wording.Invariant($"; {ranked - leaders.Count} other{(ranked == leaders.Count + 1 ? " is" : "s are")} slower than one of them")}";
        return $"{words.Names(leaders)} are not told apart{on}{rest}";
    }

    private static bool AreAlike(List<InputFindings> inputs, List<int> leaders)
        => inputs.TrueForAll(input => leaders.TrueForAll(row => leaders.TrueForAll(other => row == other
            || StudyWords.Compared(input, row, other)?.Verdict == Verdict.Same)));
}
