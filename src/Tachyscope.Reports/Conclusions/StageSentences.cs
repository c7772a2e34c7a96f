using Tachyscope.Analysis.Contrasts;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Conclusions;

/// <summary>Which stage makes most of a difference, by what its share is at least.</summary>
internal static class StageSentences
{
    private const double LeastTold = 0.5;

    public static IEnumerable<Sentence> Of(StudyWords words)
        => words.Findings.Inputs.SelectMany(input => input.Cells
                .Where(cell => cell.Contrast is { Verdict: Verdict.Faster or Verdict.Slower, Stages.Count: > 1 } contrast
                    && contrast.Stages[0] is { Stage: not null } first && first.ShareOfDifference.Lower >= LeastTold)
                .Select(cell => (Input: input, cell.Row, cell.Contrast!.Other, First: cell.Contrast.Stages[0])))
            .GroupBy(found => (found.Row, found.Other, found.First.Stage))
            .Select(group => (group.Key, Inputs: group.Select(found => found.Input)
                .ToList(), Shares: group.Select(found => found.First.ShareOfDifference).ToList()))
            .Select(found => Sentence.Of(Question.Stage, Text(words, found.Key, found.Inputs, found.Shares), found.Shares));

    private static string Text(
        StudyWords words, (int Row, int Other,
            string? Stage) key, List<Analysis.Findings.InputFindings> inputs, List<Analysis.Statistics.Interval> shares)
    {
        var least = shares.Min(share => share.Lower);
        var on = inputs.Count == words.Findings.Inputs.Count ? "" : words.On(inputs);
        var share = least >= 1 ? "all" : $"at least {Quantity.Percent(least)}";
        return $"{key.Stage} makes {share} of the difference between {words.Name(key.Row)} and {words.Name(key.Other)}{on}";
    }
}
