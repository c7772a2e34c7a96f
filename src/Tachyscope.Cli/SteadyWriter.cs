using System.Text;

namespace Tachyscope.Cli;

/// <summary>A writer that a full disk or a closed terminal cannot stop: what is lost is told in the end, and the run goes on.</summary>
/// <remarks>Measuring and saving matter more than showing; a failure here must not reach them.</remarks>
internal sealed class SteadyWriter(TextWriter inner) : TextWriter(inner.FormatProvider)
{
    /// <summary>Why something could not be written; null as long as everything could.</summary>
    public string? Failure { get; private set; }

    public override Encoding Encoding => inner.Encoding;

    public override void Write(char value) => Try(() => inner.Write(value));

    public override void Write(char[] buffer, int index, int count) => Try(() => inner.Write(buffer, index, count));

    public override void Write(string? value) => Try(() => inner.Write(value));

    public override void Flush() => Try(inner.Flush);

    // What is written after a part was lost would say something else.
    private void Try(Action write)
    {
        if (Failure is not null)
        {
            return;
        }

        try
        {
            write();
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException or ObjectDisposedException)
        {
            Failure = exception.Message;
        }
    }
}
