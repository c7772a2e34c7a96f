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
            .Select(group => Ahead(words, threads, [.. group.Select(found => found.Input)], group.First().Leaders));
    }

    // What nothing is shown to be faster than, by its estimate.
    private static List<int> Leaders(InputFindings input, int? threads)
        => [.. input.Cells.Where(cell => cell.Place is { First: 1 } && cell.Variant.Loop.Threads == threads)
            .OrderBy(cell => cell.NanosecondsPerCall.Estimate).Select(cell => cell.Row)];

    private static Sentence Ahead(StudyWords words, int? threads, List<InputFindings> inputs, List<int> leaders)
    {
        var (gain, evidence) = leaders.Count == 1 ? words.Gain(inputs, leaders[0]) : (null, []);
        var ranked = inputs.Max(input => input.Cells.Count(cell => cell.Place is not null && cell.Variant.Loop.Threads == threads));
        var text = Text(words, inputs, leaders, ranked - leaders.Count) + (gain is null ? "" : $": it {gain}");
        return Sentence.Of(Question.Ranking, StudyWords.With(threads, text), evidence);
    }

    private static string Text(StudyWords words, List<InputFindings> inputs, List<int> leaders, int others)
    {
        var on = words.On(inputs);
        if (leaders.Count == 1)
        {
            return inputs.TrueForAll(input => input.Cells.Any(cell => cell.Row == leaders[0] && cell.Place is { Last: 1 }))
                ? $"{words.Name(leaders[0])} is fastest{on}"
                : $"nothing is shown to be faster than {words.Name(leaders[0])}{on}";
        }

        if (AreAlike(inputs, leaders))
        {
            var margin = Quantity.Percent(words.Findings.MarginShare);
            return $"{words.Names(leaders)} take the same time within {margin}{on}"
                + (others == 0 ? "" : ", and nothing is shown to be faster");
        }

        // What is slower than something need not be shown to be slower than one of these.
        var rest = others == 0
            ? ""
            : Wording.Invariant($"; {others} {(others == 1 ? "other is" : "others are each")} slower than another variant");
        return $"{words.Names(leaders)} are not told apart{on}{rest}";
    }

    private static bool AreAlike(List<InputFindings> inputs, List<int> leaders)
        => inputs.TrueForAll(input => leaders.TrueForAll(row => leaders.TrueForAll(other => row == other
            || StudyWords.Compared(input, row, other)?.Verdict == Verdict.Same)));
}
