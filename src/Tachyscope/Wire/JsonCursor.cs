using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text;
using System.Text.Json;

namespace Tachyscope.Wire;

/// <summary>Goes through the JSON of a request, value by value, and takes what it is asked for.</summary>
/// <remarks>
/// The measured process reads with these few methods what comes again and again: a serialiser would have the runtime compile hundreds of
/// its own, several times over, while operations are warmed. Of these, the ones called most are compiled once.
/// </remarks>
internal ref struct JsonCursor(ReadOnlySpan<byte> text)
{
    private const int MostDepth = 64;
    private const MethodImplOptions Once = MethodImplOptions.AggressiveOptimization;

    private readonly ReadOnlySpan<byte> _text = text;
    private int _at;
    private bool _isFirst;

    /// <summary>Enters an object.</summary>
    public void BeginObject() => Begin((byte)'{');

    /// <summary>Enters an array.</summary>
    public void BeginArray() => Begin((byte)'[');

    /// <summary>Goes to the next member of an object, before its value; false at the end of the object, which is left.</summary>
    [MethodImpl(Once)]
    public bool NextMember(out ReadOnlySpan<byte> name)
    {
        if (!Next((byte)'}'))
        {
            name = default;
            return false;
        }

        name = Quoted(out var isEscaped);
        name = isEscaped ? Encoding.UTF8.GetBytes(Unescaped(name)) : name;
        Take((byte)':');
        return true;
    }

    /// <summary>Goes to the next item of an array; false at the end of the array, which is left.</summary>
    public bool NextItem() => Next((byte)']');

    /// <summary>Takes a null, if there is one.</summary>
    public bool TakeNull() => TakeWord("null"u8);

    /// <summary>Takes a yes or no.</summary>
    public bool Flag() => TakeWord("true"u8) || (TakeWord("false"u8) ? false : throw Unexpected("true or false"));

    /// <summary>Takes a whole number.</summary>
    public int Int()
        => Integer() is var number and >= int.MinValue and <= int.MaxValue ? (int)number : throw Unexpected("a smaller number");

    /// <summary>Takes a whole number.</summary>
    [MethodImpl(Once)]
    public long Integer()
    {
        var isNegative = Peek() == '-';
        var first = _at += isNegative ? 1 : 0;
        var number = 0L;
        for (; _at < _text.Length && _text[_at] is >= (byte)'0' and <= (byte)'9'; _at++)
        {
            var digit = _text[_at] - '0';
            if (number < (long.MinValue + digit) / 10)
            {
                throw Unexpected("a smaller number");
            }

            // Below zero there is room for one more.
            number = (10 * number) - digit;
        }

        var isWhole = _at > first && (_text[first] != '0' || _at == first + 1)
            && !(_at < _text.Length && _text[_at] is (byte)'.' or (byte)'e' or (byte)'E');
        return !isWhole ? throw Unexpected("a whole number")
            : isNegative ? number
            : number > long.MinValue ? -number : throw Unexpected("a smaller number");
    }

    /// <summary>Takes a text.</summary>
    public string Text()
    {
        var quoted = Quoted(out var isEscaped);
        return isEscaped ? Unescaped(quoted) : Encoding.UTF8.GetString(quoted);
    }

    /// <summary>Takes one of a few words.</summary>
    /// <param name="words">The words.</param>
    /// <returns>Its place among them.</returns>
    public int OneOf(string[] words)
    {
        var word = Text();
        return Array.IndexOf(words, word) is var place and >= 0 ? place
            : throw new JsonException($"\"{word}\" is none of {string.Join(", ", words)}.");
    }

    /// <summary>Passes over a value.</summary>
    /// <returns>Its text.</returns>
    public ReadOnlySpan<byte> Skip()
    {
        Peek();
        var first = _at;
        Skip(0);
        return _text[first.._at];
    }

    /// <summary>Makes sure that nothing comes after.</summary>
    public void End()
    {
        SkipSpace();
        if (_at < _text.Length)
        {
            throw Unexpected("the end");
        }
    }

    private void Skip(int depth)
    {
        if (depth == MostDepth)
        {
            throw new JsonException($"It is nested more than {MostDepth} deep.");
        }

        switch (Peek())
        {
            case (byte)'{':
                for (BeginObject(); NextMember(out _);)
                {
                    Skip(depth + 1);
                }

                break;
            case (byte)'[':
                for (BeginArray(); NextItem();)
                {
                    Skip(depth + 1);
                }

                break;
            case (byte)'"':
                Quoted(out _);
                break;
            default:
                if (!TakeNull() && !TakeWord("true"u8) && !TakeWord("false"u8))
                {
                    SkipNumber();
                }

                break;
        }
    }

    private void SkipNumber()
    {
        _at += _text[_at] == '-' ? 1 : 0;
        SkipDigits();
        if (_at < _text.Length && _text[_at] == '.')
        {
            _at++;
            SkipDigits();
        }

        if (_at < _text.Length && _text[_at] is (byte)'e' or (byte)'E')
        {
            _at += _at + 1 < _text.Length && _text[_at + 1] is (byte)'+' or (byte)'-' ? 2 : 1;
            SkipDigits();
        }
    }

    private void SkipDigits()
    {
        var first = _at;
        while (_at < _text.Length && _text[_at] is >= (byte)'0' and <= (byte)'9')
        {
            _at++;
        }

        if (_at == first)
        {
            throw Unexpected("a value");
        }
    }

    private void Begin(byte opening)
    {
        Take(opening);
        _isFirst = true;
    }

    [MethodImpl(Once)]
    private bool Next(byte closing)
    {
        if (Peek() == closing)
        {
            _at++;
            _isFirst = false;
            return false;
        }

        if (!_isFirst)
        {
            Take((byte)',');
        }

        _isFirst = false;
        return true;
    }

    // What lies between two quotes, as it was written.
    [MethodImpl(Once)]
    private ReadOnlySpan<byte> Quoted(out bool isEscaped)
    {
        Take((byte)'"');
        isEscaped = false;
        for (var first = _at; _at < _text.Length; _at++)
        {
            switch (_text[_at])
            {
                case (byte)'"':
                    return _text[first.._at++];
                case (byte)'\\':
                    isEscaped = true;
                    _at++;
                    break;
                case < 0x20:
                    throw Unexpected("no control character");
            }
        }

        throw Unexpected("a closing quote");
    }

    private static string Unescaped(ReadOnlySpan<byte> quoted)
    {
        var written = Encoding.UTF8.GetString(quoted);
        var text = new StringBuilder(written.Length);
        for (var at = 0; at < written.Length; at++)
        {
            if (written[at] != '\\')
            {
                text.Append(written[at]);
                continue;
            }

            var letter = written[++at];
            if (letter == 'u')
            {
                var digits = written.AsSpan(at + 1, Math.Min(4, written.Length - at - 1));
                text.Append(digits.Length == 4 && ushort.TryParse(digits, NumberStyles.AllowHexSpecifier, null, out var unit)
                    ? (char)unit : throw new JsonException($"\\u{digits} is no character."));
                at += 4;
            }
            else
            {
                text.Append("\"\\/bfnrt".IndexOf(letter, StringComparison.Ordinal) is var place and >= 0
                    ? "\"\\/\b\f\n\r\t"[place] : throw new JsonException($"\\{letter} is no character."));
            }
        }

        return text.ToString();
    }

    private bool TakeWord(ReadOnlySpan<byte> word)
    {
        SkipSpace();
        if (!_text[_at..].StartsWith(word))
        {
            return false;
        }

        _at += word.Length;
        return true;
    }

    [MethodImpl(Once)]
    private void Take(byte wanted)
    {
        if (Peek() != wanted)
        {
            throw Unexpected($"{(char)wanted}");
        }

        _at++;
    }

    // The first letter of what comes next.
    [MethodImpl(Once)]
    private byte Peek()
    {
        SkipSpace();
        return _at < _text.Length ? _text[_at] : throw new JsonException("It ends in the middle.");
    }

    [MethodImpl(Once)]
    private void SkipSpace()
    {
        while (_at < _text.Length && _text[_at] is (byte)' ' or (byte)'\t' or (byte)'\r' or (byte)'\n')
        {
            _at++;
        }
    }

    private readonly JsonException Unexpected(string wanted) => new($"Byte {_at} of it is not what was expected: {wanted}.");
}
