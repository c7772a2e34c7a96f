using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Reports.Conclusions;

/// <summary>A sentence of a conclusion with what it rests on.</summary>
/// <param name="Question">What it answers.</param>
/// <param name="Text">The sentence.</param>
/// <param name="Evidence">The intervals it rests on, each with its level and bound; empty where it rests on counts.</param>
public sealed record Sentence(Question Question, string Text, IReadOnlyList<Interval> Evidence)
{
    internal static Sentence Of(Question question, string text, params IEnumerable<Interval> evidence)
        => new(question, $"{char.ToUpperInvariant(text[0])}{text[1..]}.", [.. evidence]);

    /// <summary>The sentence.</summary>
    public override string ToString() => Text;
}
