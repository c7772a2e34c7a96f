using Tachyscope.Analysis.Growth;
using Tachyscope.Reports.Studies;

namespace Tachyscope.Reports.Conclusions;

/// <summary>What law times follow as sizes grow.</summary>
internal static class GrowthSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
        => words.Findings.Growth
            .Where(growth => growth.Where is null && growth.Threads == words.Threads[0]
                && growth.Variants.Any(variant => IsTold(words, variant)))
            .Select(growth => Sentence.Of(
                Question.Growth,
                $"over {growth.Axis}, " + Wording.List(growth.Variants.Where(variant => IsTold(words, variant))
                    .GroupBy(variant => variant.Law!.Law)
                    .OrderBy(law => law.Key)
                    .Select(law => Told(words, law.Key, [.. law]))),
                growth.Variants.Where(variant => IsTold(words, variant)).Select(variant => variant.Exponent)));

    private static bool IsTold(StudyWords words, VariantGrowth variant)
        => variant.Law is not null && words.Study.Variants[variant.Row].Settings.Count == 0;

    private static string Told(StudyWords words, GrowthLaw law, List<VariantGrowth> variants)
    {
        var names = words.Names(variants.Select(variant => variant.Row));
        return law switch
        {
            GrowthLaw.Constant => $"{names} {(variants.Count == 1 ? "takes" : "take")} about the same at every size",
            GrowthLaw.None => $"{names} {(variants.Count == 1 ? "follows" : "follow")} no law tried",
            _ => $"{names} {(variants.Count == 1 ? "grows" : "grow")} as {Wording.Law(variants[0].Law!)}",
        };
    }
}
