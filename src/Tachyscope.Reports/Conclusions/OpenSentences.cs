using Tachyscope.Analysis.Contrasts;
using Tachyscope.Reports.Formats;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Conclusions;

/// <summary>What is open, and what would settle it.</summary>
internal static class OpenSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
    {
        var findings = words.Findings;
        var all = findings.Inputs.SelectMany(input => input.Cells).Select(cell => cell.Contrast).OfType<Contrast>().ToList();
        var unclear = all.Where(contrast => contrast.Verdict == Verdict.Unclear
            && contrast.TimeRatio.Bound == Analysis.Statistics.Bound.None).ToList();
        if (unclear.Count == 0)
        {
            yield break;
        }

        var (is_, it) = unclear.Count == 1 ? ("is", "it") : ("are", "them");
        var count = Wording.Invariant($"{unclear.Count} of {all.Count} comparison{(all.Count == 1 ? "" : "s")} {is_} unclear");
        yield return Sentence.Of(Question.Open, count + Settling(words, unclear, it), unclear.Select(contrast => contrast.TimeRatio));
    }

    private static string Settling(StudyWords words, List<Contrast> unclear, string it)
    {
        var findings = words.Findings;
        if (findings.Sittings < 2)
        {
            return ", since an interval needs two sittings: allow more time with --within";
        }

        var perSitting = findings.Seconds / (findings.Sittings + findings.SittingsApart + findings.SittingsHeld);
        var needed = unclear.Select(contrast => contrast.SittingsToDecide).OfType<int>().Order().ToList();
        if (needed.Count == 0)
        {
            var most = Wording.Invariant($", and {RunPlan.MostSittings} sittings, the most there are, would not settle {it}");
            var resolution = findings.Inputs.Select(input => input.ResolutionShare).Where(double.IsFinite).DefaultIfEmpty(0).Max();
            return unclear.TrueForAll(contrast => Math.Abs(Math.Log(contrast.TimeRatio.Estimate)) <= Math.Log(1 + resolution))
                ? $"{most}: two copies of the baseline differ by up to {Quantity.Percent(resolution)}, "
                    + $"as much as {(unclear.Count == 1 ? "it does" : "they do")}; a wider --margin asks for less"
                : $"{most}: a quieter machine, or more work per call, narrows the intervals";
        }

        var settled = needed.Count == unclear.Count ? unclear.Count == 1 ? "it" : "all of them" : Wording.Invariant(
            $"{needed.Count} of them");
        var wait = Quantity.Wait(TimeSpan.FromSeconds(perSitting * needed[^1]));
        return Wording.Invariant($"; about {needed[^1]} sittings ({wait} for this study) would probably settle {settled}");
    }
}
