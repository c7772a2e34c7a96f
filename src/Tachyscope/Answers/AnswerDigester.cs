using System.Collections;
using System.Globalization;
using Tachyscope.Protocol;

namespace Tachyscope.Answers;

/// <summary>Writes answers down so that they can be compared in another process.</summary>
internal static class AnswerDigester
{
    private const int MostNumbers = 100_000;

    // Of a long input its length and so much of it: it is told apart, not compared.
    private const int MostOfInput = 100_000;

    /// <param name="answer">The answer.</param>
    /// <param name="tolerance">Tolerance the study allows; null for a rule of its own.</param>
    /// <returns>It in writing; null where it throws when it is read.</returns>
    public static AnswerDigest? Of(object? answer, double? tolerance)
    {
        try
        {
            var numbers = tolerance > 0 ? Numbers(answer).Take(MostNumbers + 1).ToList() : null;
            return new AnswerDigest(
                AnswerText.Of(answer), ValueHash.Of(answer, int.MaxValue), numbers?.Count > MostNumbers ? null : numbers);
        }
#pragma warning disable CA1031 // What the user's own types throw is no reason not to time them.
        catch (Exception)
#pragma warning restore CA1031
        {
            return null;
        }
    }

    /// <summary>The hash of an input; null where it does not say what it holds.</summary>
    /// <param name="input">The input, before any operation was given it.</param>
    public static string? OfInput(object? input)
    {
        try
        {
            return ValueHash.Of(input, MostOfInput);
        }
#pragma warning disable CA1031 // What the user's own types throw is no reason not to time them.
        catch (Exception)
#pragma warning restore CA1031
        {
            return null;
        }
    }

    private static IEnumerable<double> Numbers(object? value) => value switch
    {
        string => [],
        IEnumerable sequence => sequence.Cast<object?>().SelectMany(Numbers),
        Half half => [(double)half],
        IConvertible number => [number.ToDouble(CultureInfo.InvariantCulture)],
        _ => [],
    };
}
