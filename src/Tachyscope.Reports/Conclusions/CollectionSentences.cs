using Tachyscope.Analysis.Contrasts;
using Tachyscope.Reports.Formats;

namespace Tachyscope.Reports.Conclusions;

/// <summary>What of a difference is the collector's, where it was kept out beside.</summary>
internal static class CollectionSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
    {
        var allocating = words.Findings.Inputs.SelectMany(input => input.Cells
            .Where(cell => cell.Contrast is { Verdict: Verdict.Faster or Verdict.Slower,
                Held: { TimeRatio.IsMeasured: true, ShareRemaining: not double.NaN } } contrast
                && (cell.AllocatedBytesPerCall > 0
                    || input.Cells.Any(other => other.Row == contrast.Other && other.AllocatedBytesPerCall > 0)))
            .Select(cell => (Input: input, Cell: cell, Held: cell.Contrast!.Held!))).ToList();
        foreach (var (input, cell, held) in allocating.Where(found => found.Held.IsChanged))
        {
            var difference = $"difference between {words.Name(cell.Row)} and {words.Name(cell.Contrast!.Other)}{words.On(input)}";
            yield return Sentence.Of(
                Question.Collections,
                held.ShareRemaining < 1
                    ? $"with the collector kept out, {Quantity.Percent(Math.Max(0, held.ShareRemaining))} of the {difference} remains; "
                        + "the rest is the collector's"
                    : $"with the collector kept out, the {difference} is larger still: it is not the collector's",
                held.TimeRatio);
        }

        if (allocating.Exists(found => !found.Held.IsChanged))
        {
            yield return Sentence.Of(
                Question.Collections,
                allocating.TrueForAll(found => !found.Held.IsChanged)
                    ? "with the collector kept out, no difference between variants that allocate changes by more than the intervals allow"
                    : "no other difference between variants that allocate changes by more than the intervals allow",
                allocating.Where(found => !found.Held.IsChanged).Select(found => found.Held.TimeRatio));
        }
    }
}
