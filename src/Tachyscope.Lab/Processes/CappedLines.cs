using System.Buffers;
using Tachyscope.Protocol;

namespace Tachyscope.Lab.Processes;

/// <summary>Reads lines of which nobody knows how long they are, and keeps no more of each than a limit.</summary>
/// <remarks>
/// What could be a message begins like one and may be long; of anything else its beginning tells enough. A message that is too long is
/// told as soon as it is, since its writer may pour on without end; what is left of its line is passed over by the next reading.
/// </remarks>
/// <param name="stream">The lines.</param>
/// <param name="longestMessage">Bytes kept of what could be a message.</param>
internal sealed class CappedLines(Stream stream, int longestMessage = CappedLines.LongestMessage)
{
    /// <summary>Bytes kept of a message by default.</summary>
    public const int LongestMessage = 256 * 1024 * 1024;

    private const int LongestOther = 2_000;

    private readonly byte[] _buffer = new byte[65_536];
    private readonly ArrayBufferWriter<byte> _line = new(4_096);
    private int _next;
    private int _end;
    private bool _isRestOfCut;

    /// <summary>Whether the last line could have been a message and was too long for one, so that only its beginning is there.</summary>
    public bool IsMessageCut { get; private set; }

    /// <summary>The next line without its end, cut where it is too long; null at the end of all.</summary>
    public async ValueTask<string?> ReadAsync(CancellationToken cancellation)
    {
        _line.ResetWrittenCount();
        IsMessageCut = false;
        var isBegun = false;
        while (true)
        {
            if (_next == _end)
            {
                (_next, _end) = (0, await stream.ReadAsync(_buffer, cancellation));
                if (_end == 0)
                {
                    return isBegun ? Text() : null;
                }
            }

            var rest = _buffer.AsMemory(_next, _end - _next);
            var length = rest.Span.IndexOf((byte)'\n');
            _next = length < 0 ? _end : _next + length + 1;
            if (_isRestOfCut)
            {
                _isRestOfCut = length < 0;
                continue;
            }

            isBegun = true;
            Keep(rest.Span[..(length < 0 ? rest.Length : length)]);
            if (length >= 0 || IsMessageCut)
            {
                _isRestOfCut = length < 0;
                return Text();
            }
        }
    }

    private void Keep(ReadOnlySpan<byte> part)
    {
        var first = _line.WrittenCount > 0 ? _line.WrittenSpan[0] : part.Length > 0 ? part[0] : (byte)0;
        var room = (first == (byte)'{' ? longestMessage : LongestOther) - _line.WrittenCount;
        IsMessageCut |= first == (byte)'{' && part.Length > room;
        _line.Write(part[..Math.Clamp(room, 0, part.Length)]);
    }

    private string Text()
    {
        var text = ProtocolText.Encoding.GetString(IsMessageCut ? _line.WrittenSpan[..LongestOther] : _line.WrittenSpan);
        // What one long line took is not held for good.
        if (_line.Capacity > LongestMessage / 16)
        {
            _line.Clear();
        }

        return text.EndsWith('\r') ? text[..^1] : text;
    }
}
