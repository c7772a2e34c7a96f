using Spectre.Console;

namespace Tachyscope.Reports.Terminal;

/// <summary>Makes consoles: coloured and live for a person, plain for a pipe.</summary>
public static class TerminalConsole
{
    /// <summary>A pipe has no width of its own: nothing is wrapped, so that a line found is a whole statement.</summary>
    internal const int PlainWidth = 2_000;

    /// <summary>A console for whoever reads: a person, or a pipe.</summary>
    /// <param name="writer">Where to write.</param>
    /// <param name="size">Columns and lines of the terminal in which a person watches, asked when they matter; null for a pipe.</param>
    public static IAnsiConsole For(TextWriter writer, Func<(int Width, int Height)>? size)
        => size is null ? Plain(writer) : AnsiConsole.Create(new AnsiConsoleSettings { Out = new PersonOutput(writer, size) });

    /// <summary>A console without colour, movement or a width that depends on the terminal.</summary>
    /// <param name="writer">Where to write.</param>
    public static IAnsiConsole Plain(TextWriter writer)
    {
        var console = AnsiConsole.Create(new AnsiConsoleSettings
        {
            Ansi = AnsiSupport.No,
            ColorSystem = ColorSystemSupport.NoColors,
            Interactive = InteractionSupport.No,
            Out = new AnsiConsoleOutput(writer),
        });
        console.Profile.Width = PlainWidth;
        console.Profile.Capabilities.Unicode = true;
        return console;
    }
}
