using Spectre.Console;

namespace Tachyscope.Reports.Terminal;

/// <summary>Makes consoles: coloured and live for a person, plain for a pipe.</summary>
public static class TerminalConsole
{
    /// <summary>A pipe has no width of its own: nothing is wrapped, so that a line found is a whole statement.</summary>
    internal const int PlainWidth = 2_000;

    /// <summary>A console for whoever reads: a person, or a pipe.</summary>
    /// <param name="writer">Where to write.</param>
    /// <param name="isForPerson">Whether a person watches.</param>
    public static IAnsiConsole For(TextWriter writer, bool isForPerson) 
        => isForPerson ? AnsiConsole.Create(new AnsiConsoleSettings { Out = new AnsiConsoleOutput(writer) }) : Plain(writer);

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
