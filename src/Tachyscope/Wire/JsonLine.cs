using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text;

namespace Tachyscope.Wire;

/// <summary>A line of JSON under way: values are added one after the other, and commas come by themselves.</summary>
/// <remarks>As <see cref="JsonCursor"/>, made of few methods that the runtime compiles once.</remarks>
internal sealed class JsonLine
{
    private const MethodImplOptions Once = MethodImplOptions.AggressiveOptimization;

    // A nanosecond's millionth is far below what anything here is measured to.
    private const double Fraction = 1e6;
    private const double LargestWithFraction = 1e9;
    private const int LongestNumber = 32;
    private const int LongestLetter = 6;

    private byte[] _bytes = new byte[4_096];
    private int _length;

    /// <summary>What was written.</summary>
    public ReadOnlySpan<byte> Written => _bytes.AsSpan(0, _length);

    public void Clear() => _length = 0;

    public void BeginObject()
    {
        Separate();
        Add((byte)'{');
    }

    public void EndObject() => Add((byte)'}');

    public void BeginArray()
    {
        Separate();
        Add((byte)'[');
    }

    public void EndArray() => Add((byte)']');

    /// <summary>Ends the line.</summary>
    public void EndLine() => Add((byte)'\n');

    /// <summary>Names the member whose value comes next.</summary>
    /// <param name="name">Its name, which needs no escapes.</param>
    [MethodImpl(Once)]
    public void Name(ReadOnlySpan<byte> name)
    {
        Separate();
        Add((byte)'"');
        name.CopyTo(Room(name.Length));
        _length += name.Length;
        Add((byte)'"');
        Add((byte)':');
    }

    /// <summary>JSON as it stands.</summary>
    public void Raw(ReadOnlySpan<byte> json)
    {
        Separate();
        json.CopyTo(Room(json.Length));
        _length += json.Length;
    }

    public void Null() => Raw("null"u8);

    public void Flag(bool value) => Raw(value ? "true"u8 : "false"u8);

    [MethodImpl(Once)]
    public void Number(long value)
    {
        Separate();
        Digits(value, least: 1);
    }

    /// <summary>A number to a millionth, or to all its digits where it is a large one; null where it is none.</summary>
    [MethodImpl(Once)]
    public void Number(double value)
    {
        if (!double.IsFinite(value))
        {
            Null();
            return;
        }

        var whole = (long)value;
        if (whole == value)
        {
            Number(whole);
            return;
        }

        if (Math.Abs(value) >= LargestWithFraction)
        {
            Separate();
            value.TryFormat(Room(LongestNumber), out var written, "R", CultureInfo.InvariantCulture);
            _length += written;
            return;
        }

        var parts = (long)Math.Round(Math.Abs(value) * Fraction);
        Separate();
        if (value < 0)
        {
            Add((byte)'-');
        }

        Digits(parts / (long)Fraction, least: 1);
        Add((byte)'.');
        Digits(parts % (long)Fraction, least: 6);
    }

    public void Text(string value)
    {
        Separate();
        Add((byte)'"');
        foreach (var letter in Encoding.UTF8.GetBytes(value))
        {
            _length += Letter(letter, Room(LongestLetter));
        }

        Add((byte)'"');
    }

    private static int Letter(byte letter, Span<byte> room)
    {
        if (letter >= 0x20 && letter is not ((byte)'"' or (byte)'\\'))
        {
            room[0] = letter;
            return 1;
        }

        "\\u00"u8.CopyTo(room);
        room[4] = Hexadecimal(letter >> 4);
        room[5] = Hexadecimal(letter & 15);
        return 6;
    }

    private static byte Hexadecimal(int digit) => (byte)(digit < 10 ? '0' + digit : 'a' + digit - 10);

    [MethodImpl(Once)]
    private void Digits(long value, int least)
    {
        var room = Room(LongestNumber);
        var (at, left) = (LongestNumber, value < 0 ? 0 - (ulong)value : (ulong)value);
        for (; left > 0 || LongestNumber - at < least; left /= 10)
        {
            room[--at] = (byte)('0' + (left % 10));
        }

        if (value < 0)
        {
            room[--at] = (byte)'-';
        }

        room[at..LongestNumber].CopyTo(room);
        _length += LongestNumber - at;
    }

    // Between two values, and not after what opens, names or begins.
    [MethodImpl(Once)]
    private void Separate()
    {
        if (_length > 0 && _bytes[_length - 1] is not ((byte)'{' or (byte)'[' or (byte)':'))
        {
            Add((byte)',');
        }
    }

    [MethodImpl(Once)]
    private void Add(byte letter)
    {
        Room(1)[0] = letter;
        _length++;
    }

    [MethodImpl(Once)]
    private Span<byte> Room(int length)
    {
        if (_bytes.Length - _length < length)
        {
            Array.Resize(ref _bytes, Math.Max(2 * _bytes.Length, _length + length));
        }

        return _bytes.AsSpan(_length);
    }
}
