using System.Globalization;

namespace Tachyscope.Answers;

/// <summary>Decides whether two answers agree: exactly, within a tolerance, or by the user's own rule.</summary>
internal sealed class AnswerRule<TResult>
{
    private readonly Func<TResult, TResult, bool> _agrees;

    private AnswerRule(string inWords, Func<TResult, TResult, bool> agrees, Func<object?, object?, bool>? elementsAgree)
    {
        InWords = inWords;
        _agrees = agrees;
        ElementsAgree = elementsAgree;
    }

    public static AnswerRule<TResult> Exact { get; } =
        new("exactly", static (one, other) => AnswerEquality.AreSame(one, other), AnswerEquality.AreSame) { Tolerance = 0 };

    public string InWords { get; }

    /// <summary>By how much answers may differ; 0 exactly, null for a rule of the user's own.</summary>
    public double? Tolerance { get; private init; }

    public IReadOnlyList<string> Mistakes { get; private init; } = [];

    /// <summary>The rule for one element of a sequence, to find the first that differs; null for a rule of the user's own.</summary>
    public Func<object?, object?, bool>? ElementsAgree { get; }

    public static AnswerRule<TResult> Own(Func<TResult, TResult, bool> agrees) => new("by the study's own rule", agrees, null);

    public static AnswerRule<TResult> Within(double tolerance)
    {
        bool AreClose(object? one, object? other) => AnswerEquality.AreClose(one, other, tolerance);
        var words = string.Create(CultureInfo.InvariantCulture, $"within {tolerance:R}");
        return new(words, (one, other) => AreClose(one, other), AreClose) { Tolerance = tolerance, Mistakes = [.. MistakesIn(tolerance)] };
    }

    public bool Agrees(TResult reference, TResult answer) => _agrees(reference, answer);

    private static IEnumerable<string> MistakesIn(double tolerance)
    {
        if (!(tolerance >= 0) || double.IsInfinity(tolerance))
        {
            yield return string.Create(
                CultureInfo.InvariantCulture,
                $"the tolerance {tolerance:R} is not a finite number of 0 or more; give one such as 1e-12.");
        }

        if (!AnswerEquality.HasTolerance(typeof(TResult)))
        {
            yield return $"a tolerance needs answers that are numbers or sequences of numbers, and these are {typeof(TResult).Name}; "
                + "give .Agree((expected, answer) => …) a rule of your own.";
        }
    }
}
