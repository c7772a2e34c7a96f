using System.Buffers.Binary;
using System.Collections;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Security.Cryptography;

namespace Tachyscope.Answers;

/// <summary>The hash of what a value holds, the same in every process.</summary>
/// <remarks>An answer may be of a million numbers, and is hashed before anything is timed: hence the buffer, no text for each, and code
/// that is optimised at once.</remarks>
internal sealed class ValueHash : IDisposable
{
    private const int MostDepth = 32;
    private const int BufferBytes = 16_384;
    private const int LongestNumber = 64;

    private readonly IncrementalHash _hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private readonly byte[] _buffer = new byte[BufferBytes];
    private int _used;
    private int _left;

    private ValueHash(int most) => _left = most;

    /// <summary>SHA-256 in hexadecimal; null where the value does not say what it holds.</summary>
    /// <param name="value">The value.</param>
    /// <param name="most">How many of its elements count; of a longer one, how many there are counts too.</param>
    public static string? Of(object? value, int most)
    {
        using var own = new ValueHash(most);
        return own.TryWrite(value, MostDepth) ? Convert.ToHexString(own.Whole()) : null;
    }

    public void Dispose() => _hash.Dispose();

    private byte[] Whole()
    {
        Flush();
        return _hash.GetHashAndReset();
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool TryWrite(object? value, int depth)
    {
        if (depth == 0)
        {
            return false;
        }

        _left--;
        switch (value)
        {
            case null:
                Write("null");
                return true;
            case string text:
                Write(text);
                return true;
            // Two zeros are equal and are written differently.
            case 0.0 or 0f:
                Write("0");
                return true;
            case ITuple tuple:
                Write("(");
                return Enumerable.Range(0, tuple.Length).All(index => TryWrite(tuple[index], depth - 1));
            // As any sequence of the same numbers, without a box for each.
            case int[] numbers:
                return TryWrite<int>(numbers);
            case long[] numbers:
                return TryWrite<long>(numbers);
            case double[] numbers:
                return TryWrite<double>(numbers);
            case List<int> numbers:
                return TryWrite<int>(CollectionsMarshal.AsSpan(numbers));
            case IEnumerable sequence:
                return !IsOrderedByHash(sequence) && TryWrite(sequence, depth);
            case ISpanFormattable number when value.GetType().IsPrimitive:
                Span<char> digits = stackalloc char[LongestNumber];
                if (!number.TryFormat(digits, out var count, default, CultureInfo.InvariantCulture))
                {
                    return false;
                }

                Write(digits[..count]);
                return true;
            case IFormattable number:
                Write(number.ToString(null, CultureInfo.InvariantCulture));
                return true;
            default:
                // What does not say what it holds says its type.
                var said = value.ToString();
                Write(said);
                return said is not null && said != value.GetType().ToString();
        }
    }

    // Hashes of texts are drawn anew by each process, and with them the order of these: it says nothing outside.
    private static bool IsOrderedByHash(IEnumerable sequence) => sequence.GetType() is { Namespace: "System.Collections.Concurrent"
            or "System.Collections.Immutable" or "System.Collections.Frozen" } type
        && (sequence is IDictionary || type.Name.Contains("Set", StringComparison.Ordinal));

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool TryWrite(IEnumerable sequence, int depth)
    {
        Write("[");
        if (sequence is ICollection { Count: var count } && count > _left)
        {
            Write(count.ToString(CultureInfo.InvariantCulture));
        }

        foreach (var element in sequence)
        {
            if (_left <= 0)
            {
                break;
            }

            if (!TryWrite(element, depth - 1))
            {
                return false;
            }
        }

        Write("]");
        return true;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool TryWrite<T>(ReadOnlySpan<T> numbers)
        where T : struct, ISpanFormattable, IEquatable<T>
    {
        Write("[");
        if (numbers.Length > _left)
        {
            Write(numbers.Length.ToString(CultureInfo.InvariantCulture));
        }

        Span<char> digits = stackalloc char[LongestNumber];
        for (var index = 0; index < numbers.Length && _left > 0; index++, _left--)
        {
            if (numbers[index].Equals(default(T)))
            {
                Write("0");
            }
            else if (numbers[index].TryFormat(digits, out var count, default, CultureInfo.InvariantCulture))
            {
                Write(digits[..count]);
            }
            else
            {
                return false;
            }
        }

        Write("]");
        return true;
    }

    // With its length, so that two texts never read like two others.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Write(ReadOnlySpan<char> text)
    {
        Span<byte> length = stackalloc byte[sizeof(int)];
        BinaryPrimitives.WriteInt32LittleEndian(length, text.Length);
        Append(length);
        Append(MemoryMarshal.AsBytes(text));
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Append(ReadOnlySpan<byte> bytes)
    {
        if (bytes.Length > _buffer.Length - _used)
        {
            Flush();
        }

        if (bytes.Length > _buffer.Length)
        {
            _hash.AppendData(bytes);
            return;
        }

        bytes.CopyTo(_buffer.AsSpan(_used));
        _used += bytes.Length;
    }

    private void Flush()
    {
        _hash.AppendData(_buffer, 0, _used);
        _used = 0;
    }
}
