using Tachyscope.Analysis.Findings;

namespace Tachyscope.Reports.Conclusions;

/// <summary>Says in plain sentences what a study's intervals support, and nothing more: the decision first. Pure.</summary>
internal static class Conclusion
{
    private static readonly Func<StudyWords, IEnumerable<Sentence>>[] Questions =
    [
        DecisionSentences.Of, RankingSentences.Of, ChainSentences.Of, GrowthSentences.Of, DialSentences.Of, BreakEvenSentences.Of,
        FlipSentences.Of, StageSentences.Of, GuestSentences.Of, CollectionSentences.Of, RoofSentences.Of, LimitSentences.Of,
        OpenSentences.Of,
    ];

    public static IReadOnlyList<Sentence> Of(StudyFindings findings)
    {
        var words = new StudyWords(findings);
        return findings.Sittings == 0 ? [Sentence.Of(Question.Open, "nothing was measured")]
            : [.. Questions.SelectMany(question => question(words))];
    }
}
