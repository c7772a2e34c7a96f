using System.Collections;
using System.Globalization;

namespace Tachyscope.Answers;

/// <summary>Says in a few words how two answers differ.</summary>
internal static class AnswerText
{
    private const int LongestText = 48;
    private const int ElementsShown = 6;

    public static string Difference<TResult>(TResult reference, TResult answer, AnswerRule<TResult> rule, string referenceName)
    {
        return rule.ElementsAgree is { } agree && reference is IEnumerable expected and not string
            && answer is IEnumerable given and not string
            ? Difference(expected, given, agree, referenceName)
            : $"answers {Of(answer)} where \"{referenceName}\" answers {Of(reference)}";
    }

    private static string Difference(
        IEnumerable expected, IEnumerable given, Func<object?, object?, bool> agree, string referenceName)
    {
        var left = expected.Cast<object?>().ToList();
        var right = given.Cast<object?>().ToList();
        if (left.Count != right.Count)
        {
            return $"answers {Count(right.Count)} where \"{referenceName}\" answers {Count(left.Count)}";
        }

        var index = Enumerable.Range(0, left.Count).First(i => !agree(left[i], right[i]));
        return $"answers {Of(right[index])} at index {index} where \"{referenceName}\" answers {Of(left[index])}";
    }

    private static string Count(int elements)
        => string.Create(CultureInfo.InvariantCulture, $"{elements:N0} element{(elements == 1 ? "" : "s")}");

    /// <summary>A value in a few words.</summary>
    public static string Of(object? value)
    {
        var text = value switch
        {
            null => "null",
            string words => $"\"{words}\"",
            IEnumerable sequence => $"[{string.Join(", ", sequence.Cast<object?>().Take(ElementsShown).Select(Of))}"
                + $"{(sequence.Cast<object?>().Skip(ElementsShown).Any() ? ", …" : "")}]",
            // Moments that differ by less than a second are to be told apart.
            DateTime or DateTimeOffset or TimeOnly => ((IFormattable)value).ToString("O", CultureInfo.InvariantCulture),
            IFormattable number => number.ToString(null, CultureInfo.InvariantCulture),
            _ => value.ToString() ?? "null",
        };
        return Shortened(text);
    }

    /// <summary>As much of a text as a message has room for.</summary>
    public static string Shortened(string text)
        => text.Length <= LongestText ? text : string.Concat(text.AsSpan(0, LongestText - 1), "…");
}
