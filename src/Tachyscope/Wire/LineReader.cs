namespace Tachyscope.Wire;

/// <summary>Reads lines of bytes, of any length.</summary>
internal sealed class LineReader(Stream stream)
{
    private byte[] _bytes = new byte[65_536];
    private int _next;
    private int _end;

    /// <summary>The next line without its end, until the line after is read; false where there is none.</summary>
    public bool TryRead(out ReadOnlySpan<byte> line)
    {
        var looked = 0;
        while (true)
        {
            var length = _bytes.AsSpan(_next + looked, _end - _next - looked).IndexOf((byte)'\n');
            if (length >= 0)
            {
                line = Line(looked + length);
                _next += looked + length + 1;
                return true;
            }

            looked = _end - _next;
            if (!TryFill())
            {
                line = Line(looked);
                _next = _end;
                return looked > 0;
            }
        }
    }

    private ReadOnlySpan<byte> Line(int length)
        => _bytes.AsSpan(_next, length > 0 && _bytes[_next + length - 1] == '\r' ? length - 1 : length);

    private bool TryFill()
    {
        if (_next > 0)
        {
            _bytes.AsSpan(_next, _end - _next).CopyTo(_bytes);
            (_next, _end) = (0, _end - _next);
        }

        if (_end == _bytes.Length)
        {
            Array.Resize(ref _bytes, 2 * _bytes.Length);
        }

        var read = stream.Read(_bytes, _end, _bytes.Length - _end);
        _end += read;
        return read > 0;
    }
}
