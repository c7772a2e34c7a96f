using System.Text;
using Spectre.Console;

namespace Tachyscope.Reports.Terminal;

/// <summary>A terminal that is written to through a writer of ours.</summary>
internal sealed class PersonOutput(TextWriter writer, Func<(int Width, int Height)> size) : IAnsiConsoleOutput
{
    // Of a terminal that does not tell.
    private const int UsualWidth = 80;
    private const int UsualHeight = 24;

    public TextWriter Writer => writer;

    public bool IsTerminal => true;

    public int Width => size().Width is > 0 and var known ? known : UsualWidth;

    public int Height => size().Height is > 0 and var known ? known : UsualHeight;

    public void SetEncoding(Encoding encoding)
    {
        // The writer has its own.
    }
}
