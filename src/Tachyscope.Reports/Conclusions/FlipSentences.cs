using Tachyscope.Analysis.Rankings;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Reports.Conclusions;

/// <summary>Where the order of variants turns round.</summary>
internal static class FlipSentences
{
    public static IEnumerable<Sentence> Of(StudyWords words)
        => words.Findings.Flip is { } flip && words.Findings.Growth.Count == 0 ? [Of(flip, words.Study)] : [];

    public static Sentence Of(Flip flip, StudyDescription study)
        => Sentence.Of(Question.Flip, Text(flip, study));

    public static string Text(Flip flip, StudyDescription study)
        => $"the order is not the same everywhere: {StudyWords.Name(study, flip.Variant)} is faster than "
            + $"{StudyWords.Name(study, flip.Other)} "
            + $"on {StudyWords.Places(flip.FasterAt)}, and slower on {StudyWords.Places(flip.SlowerAt)}"
            + (flip.Pairs > 1 ? Wording.Invariant($"; so it is with {flip.Pairs - 1} other pair{(flip.Pairs == 2 ? "" : "s")}") : "");
}
