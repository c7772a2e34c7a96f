using Tachyscope.Analysis.Uses;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Conclusions;

/// <summary>After how many uses preparing has paid, against the baseline.</summary>
internal static class BreakEvenSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
        => words.Findings.Inputs.SelectMany(input => input.BreakEvens
                .Where(pair => words.Study.Variants[pair.Other].IsBaseline && pair.Answer != BreakEvenAnswer.Unclear)
                .Select(pair => (input.Input.Label, Pair: pair)))
            .GroupBy(found => (found.Pair.Row, found.Pair.Other))
            .Select(pair => Sentence.Of(
                Question.BreakEven,
                $"against {words.Name(pair.Key.Other)}, preparing {Wording.Quoted(words.Study.Variants[pair.Key.Row].Variant)} "
                    + string.Join("; ", pair.GroupBy(found => found.Pair.Answer).OrderByDescending(answers => answers.Key)
                        .Select(answers => PaidOff(words, answers.Key, [.. answers]))),
                pair.Select(found => found.Pair.Uses)));

    private static string PaidOff(StudyWords words, BreakEvenAnswer answer, List<(string Label, BreakEven Pair)> found)
    {
        var isOne = words.Findings.Inputs.Count == 1;
        var on = isOne ? "" : $" on {StudyWords.Places(found.Select(pair => pair.Label))}";
        return answer switch
        {
            BreakEvenAnswer.Never => $"never pays{on}",
            BreakEvenAnswer.Always => $"pays at the first use{on}",
            _ when isOne => $"pays after {AnswerReporter.UsesRange(found[0].Pair)} uses",
            _ => "pays after " + Wording.List(found.Select((pair, index)
                => $"{AnswerReporter.UsesRange(pair.Pair)} {(index == 0 ? "uses " : "")}on {Wording.Quoted(pair.Label)}")),
        };
    }
}
