using System.Collections;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using System.Text;
using Tachyscope.Protocol;

namespace Tachyscope.Answers;

/// <summary>Writes answers down so that they can be compared in another process.</summary>
internal static class AnswerDigester
{
    private const int MostNumbers = 100_000;
    private const int MostDepth = 32;

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
            return new AnswerDigest(AnswerText.Of(answer), HashOf(answer, int.MaxValue), numbers?.Count > MostNumbers ? null : numbers);
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
            return HashOf(input, MostOfInput);
        }
#pragma warning disable CA1031 // What the user's own types throw is no reason not to time them.
        catch (Exception)
#pragma warning restore CA1031
        {
            return null;
        }
    }

    private static string? HashOf(object? value, int most)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        return TryWrite(value, hash, MostDepth, ref most) ? Convert.ToHexString(hash.GetHashAndReset()) : null;
    }

    // Goes as deep as is allowed, and stops where enough was written.
    private static bool TryWrite(object? value, IncrementalHash hash, int depth, ref int left)
    {
        if (depth == 0)
        {
            return false;
        }

        left--;
        switch (value)
        {
            case null:
                Write(hash, "null");
                return true;
            case string text:
                Write(hash, text);
                return true;
            // Two zeros are equal and are written differently.
            case 0.0 or 0f:
                Write(hash, "0");
                return true;
            case ITuple tuple:
                Write(hash, "(");
                for (var index = 0; index < tuple.Length; index++)
                {
                    if (!TryWrite(tuple[index], hash, depth - 1, ref left))
                    {
                        return false;
                    }
                }

                return true;
            case IEnumerable sequence:
                Write(hash, "[");
                if (sequence is ICollection { Count: var count } && count > left)
                {
                    Write(hash, count.ToString(CultureInfo.InvariantCulture));
                }

                foreach (var element in sequence)
                {
                    if (left <= 0)
                    {
                        break;
                    }

                    if (!TryWrite(element, hash, depth - 1, ref left))
                    {
                        return false;
                    }
                }

                Write(hash, "]");
                return true;
            case IFormattable number:
                Write(hash, number.ToString(null, CultureInfo.InvariantCulture));
                return true;
            default:
                // What does not say what it holds says its type.
                var said = value.ToString();
                Write(hash, said ?? "");
                return said is not null && said != value.GetType().ToString();
        }
    }

    // With its length, so that two texts never read like two others.
    private static void Write(IncrementalHash hash, string text)
    {
        hash.AppendData(BitConverter.GetBytes(text.Length));
        hash.AppendData(Encoding.Unicode.GetBytes(text));
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
