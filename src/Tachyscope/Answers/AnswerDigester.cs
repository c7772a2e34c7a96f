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

    /// <param name="answer">The answer.</param>
    /// <param name="tolerance">Tolerance the study allows; null for a rule of its own.</param>
    public static AnswerDigest Of(object? answer, double? tolerance)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var isComparable = TryWrite(answer, hash, MostDepth);
        var numbers = tolerance > 0 ? Numbers(answer).Take(MostNumbers + 1).ToList() : null;
        return new AnswerDigest(AnswerText.Of(answer), isComparable
            ? Convert.ToHexString(hash.GetHashAndReset())
            : null, numbers?.Count > MostNumbers ? null : numbers);
    }

    private static bool TryWrite(object? value, IncrementalHash hash, int depth)
    {
        if (depth == 0)
        {
            return false;
        }

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
                return Enumerable.Range(0, tuple.Length).All(index => TryWrite(tuple[index], hash, depth - 1));
            case IEnumerable sequence:
                Write(hash, "[");
                var isComparable = sequence.Cast<object?>().All(element => TryWrite(element, hash, depth - 1));
                Write(hash, "]");
                return isComparable;
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
