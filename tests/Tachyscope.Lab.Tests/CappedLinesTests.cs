using Tachyscope.Lab.Processes;

namespace Tachyscope.Lab.Tests;

/// <summary>Lines of which nobody knows how long they are.</summary>
public sealed class CappedLinesTests
{
    [Fact]
    public async Task A_long_line_is_cut_a_message_is_not_and_what_follows_is_read()
    {
        var text = new string('~', 100_000) + "\n{" + new string('x', 100_000) + "}\n\nlit";
        var lines = new CappedLines(new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text)));

        Assert.Equal(new string('~', 2_000), await lines.ReadAsync(CancellationToken.None));
        Assert.Equal(100_002, (await lines.ReadAsync(CancellationToken.None))!.Length);
        Assert.Equal("", await lines.ReadAsync(CancellationToken.None));
        Assert.Equal("lit", await lines.ReadAsync(CancellationToken.None));
        Assert.Null(await lines.ReadAsync(CancellationToken.None));
    }

    [Theory]
    [InlineData(70_000)]
    [InlineData(1_000_000)]
    public async Task A_message_that_is_too_long_is_told_before_its_end_and_the_next_line_is_read(int length)
    {
        var text = "{" + new string('x', length) + "}\nlit\n";
        using var stream = new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text));
        var lines = new CappedLines(stream, 50_000);

        Assert.Equal("{" + new string('x', 1_999), await lines.ReadAsync(CancellationToken.None));
        Assert.True(lines.IsMessageCut);
        Assert.True(stream.Position < length, "All of it was read.");
        Assert.Equal("lit", await lines.ReadAsync(CancellationToken.None));
        Assert.False(lines.IsMessageCut);
        Assert.Null(await lines.ReadAsync(CancellationToken.None));
    }

    [Fact]
    public void A_line_without_end_takes_no_memory()
    {
        var lines = new CappedLines(new Tildes(300_000_000));
        var before = GC.GetAllocatedBytesForCurrentThread();

        var reading = lines.ReadAsync(CancellationToken.None);

        Assert.True(reading.IsCompletedSuccessfully, "The stream answers at once, so all is read on this thread.");
        Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 0, 100_000);
    }

    /// <summary>So many bytes of one line, made as they are read.</summary>
    private sealed class Tildes(long count) : Stream
    {
        private long _left = count;

        public override bool CanRead => true;

        public override bool CanSeek => false;

        public override bool CanWrite => false;

        public override long Length => throw new NotSupportedException();

        public override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }

        public override ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
        {
            var now = (int)Math.Min(_left, buffer.Length);
            buffer.Span[..now].Fill((byte)'~');
            _left -= now;
            return ValueTask.FromResult(now);
        }

        public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        public override void Flush()
        {
        }

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
    }
}
