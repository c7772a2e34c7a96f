using Tachyscope.Analysis.Contrasts;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Conclusions;

/// <summary>What a chain of variants, each compared with the one before, came to from first to last.</summary>
internal static class ChainSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
        => from input in words.Findings.Inputs
           from chain in input.Chains
           where chain.Verdict is Verdict.Faster or Verdict.Slower
           let first = words.Study.Variants[chain.Other]
           let last = input.Cells.Last(cell => cell.Contrast is not null && cell.Variant.Loop.Threads == first.Loop.Threads
               && (cell.Variant.Part == VariantPart.Prepare) == (first.Part == VariantPart.Prepare)).Row
           let ratio = chain.Verdict == Verdict.Faster ? chain.TimeRatio : chain.TimeRatio.Dividing(1)
           let pair = chain.Verdict == Verdict.Faster ? (Own: last, chain.Other) : (Own: chain.Other, Other: last)
           select Sentence.Of(
               Question.Chain,
               $"from first to last{words.On(input)}, {words.Name(pair.Own)} "
                   + $"{Wording.IsOrTakes(ratio.Lower, ratio.Upper, words.Name(pair.Other))}",
               chain.TimeRatio);
}
