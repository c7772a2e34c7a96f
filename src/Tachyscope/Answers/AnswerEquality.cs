using System.Collections;

namespace Tachyscope.Answers;

/// <summary>Compares answers by what they hold: sequences element by element, numbers exactly or within a tolerance.</summary>
internal static class AnswerEquality
{
    private const int ElementsLookedAt = 8;

    private static readonly Type[] NumberTypes =
    [
        typeof(double), typeof(float), typeof(Half), typeof(decimal), typeof(int), typeof(long), typeof(short), typeof(sbyte),
        typeof(uint), typeof(ulong), typeof(ushort), typeof(byte),
    ];

    // Spelled out, since building them from NumberTypes would need code made at run time.
    private static readonly Type[] SequenceTypes =
    [
        typeof(IEnumerable<double>), typeof(IEnumerable<float>), typeof(IEnumerable<Half>), typeof(IEnumerable<decimal>),
        typeof(IEnumerable<int>), typeof(IEnumerable<long>), typeof(IEnumerable<short>), typeof(IEnumerable<sbyte>),
        typeof(IEnumerable<uint>), typeof(IEnumerable<ulong>), typeof(IEnumerable<ushort>), typeof(IEnumerable<byte>),
    ];

    /// <summary>Whether a tolerance can be applied to answers of a type.</summary>
    public static bool HasTolerance(Type type)
        => Array.IndexOf(NumberTypes, type) >= 0
            || Array.Exists(SequenceTypes, sequence => sequence.IsAssignableFrom(type));

    /// <summary>Whether a value is made of numbers, words and sequences of them, which say by themselves when they are the same.</summary>
    public static bool IsComparable(object? value) => value switch
    {
        null or string => true,
        IEnumerable sequence and ICollection => sequence.Cast<object?>().Take(ElementsLookedAt).All(IsComparable),
        _ => value.GetType().IsPrimitive || value is decimal || value.GetType().IsEnum,
    };

    public static bool AreSame(object? one, object? other)
        => AreEqual(one, other, static (a, b) => a.Equals(b));

    public static bool AreClose(object? one, object? other, double tolerance)
        => AreEqual(one, other, (a, b) => a.Equals(b) || (IsNumber(a) && IsNumber(b) && IsClose(ToDouble(a), ToDouble(b), tolerance)));

    private static bool AreEqual(object? one, object? other, Func<object, object, bool> leaves)
    {
        if (one is null || other is null)
        {
            return ReferenceEquals(one, other);
        }

        return one is IEnumerable and not string && other is IEnumerable and not string
            ? AreEqual((IEnumerable)one, (IEnumerable)other, leaves)
            : leaves(one, other);
    }

    private static bool AreEqual(IEnumerable one, IEnumerable other, Func<object, object, bool> leaves)
    {
        var left = one.GetEnumerator();
        var right = other.GetEnumerator();
        using var disposeLeft = left as IDisposable;
        using var disposeRight = right as IDisposable;
        while (left.MoveNext())
        {
            if (!right.MoveNext() || !AreEqual(left.Current, right.Current, leaves))
            {
                return false;
            }
        }

        return !right.MoveNext();
    }

    private static bool IsNumber(object value) => Array.IndexOf(NumberTypes, value.GetType()) >= 0;

    private static bool IsClose(double one, double other, double tolerance)
        => Math.Abs(one - other) <= tolerance * Math.Max(1, Math.Max(Math.Abs(one), Math.Abs(other)));

    private static double ToDouble(object number)
        => number is Half half ? (double)half : Convert.ToDouble(number, System.Globalization.CultureInfo.InvariantCulture);
}
