using System.CommandLine;
using System.CommandLine.Help;
using System.CommandLine.Invocation;
using Spectre.Console;
using Tachyscope.Reports.Terminal;

namespace Tachyscope.Cli.Options;

/// <summary>What a command is for, what it takes, and what a command line of it looks like.</summary>
internal sealed class HelpPage(Surroundings around) : SynchronousCommandLineAction
{
    private const int Indent = 2;

    public override int Invoke(ParseResult parseResult)
    {
        var (command, output) = (parseResult.CommandResult.Command, parseResult.InvocationConfiguration.Output);
        output.WriteLine(command.Description);
        output.WriteLine();
        output.WriteLine($"  {Usage(command)}");
        if (command is RootCommand)
        {
            foreach (var (title, names) in HelpGroups.Commands)
            {
                Write(output, title, names.Select(name => command.Subcommands.Single(known => known.Name == name))
                    .Select(known => ($"{known.Name}{Arguments(known)}", known.Description)));
            }

            output.WriteLine();
            output.WriteLine("tachyscope COMMAND --help tells what a command takes, tachyscope --version which one this is.");
            return ExitCode.Fine;
        }

        Write(output, "What to do with it", command.Subcommands.Select(known => ($"{known.Name}{Arguments(known)}", known.Description)));
        Write(output, "Arguments", command.Arguments.Select(argument => (argument.Name, argument.Description)));
        foreach (var (title, names) in HelpGroups.Options)
        {
            Write(output, title, names.Select(name => OptionsOf(command).FirstOrDefault(option => option.Name == name)).OfType<Option>()
                .Select(option => ($"{option.Name}{(option.HelpName is { } value ? $" {value}" : "")}", option.Description)));
        }

        output.WriteLine();
        output.WriteLine("Examples");
        foreach (var (line, answer) in Examples.Of[Line(command)[0].Name])
        {
            output.WriteLine($"  {line}");
            output.WriteLine($"      {answer}");
        }

        return ExitCode.Fine;
    }

    private static string Usage(Command command)
        => command is RootCommand
            ? "tachyscope COMMAND …"
            : $"tachyscope {NameOf(command)}{Arguments(command)}"
                + (OptionsOf(command).Any(option => option is not HelpOption) ? " [OPTIONS]" : "");

    /// <summary>A command as it is typed, such as "history label".</summary>
    public static string NameOf(Command command) => string.Join(' ', Line(command).Select(part => part.Name));

    // The command with those it is a part of, the root left out.
    private static List<Command> Line(Command command)
        => [.. command.Parents.OfType<Command>().Where(parent => parent is not RootCommand).SelectMany(Line), command];

    private static IEnumerable<Option> OptionsOf(Command command)
        => command.Options.Concat(Line(command).SkipLast(1).SelectMany(parent => parent.Options.Where(option => option.Recursive)));

    private static string Arguments(Command command) => string.Concat(command.Arguments.Select(argument =>
    {
        var name = argument.Arity.MaximumNumberOfValues > 1 ? $"{argument.Name} …" : argument.Name;
        return argument.Arity.MinimumNumberOfValues == 0 || argument.HasDefaultValue ? $" [{name}]" : $" {name}";
    }));

    private void Write(TextWriter output, string title, IEnumerable<(string Term, string? Meaning)> rows)
    {
        var listed = rows.ToList();
        if (listed.Count == 0)
        {
            return;
        }

        output.WriteLine();
        output.WriteLine(title);
        var grid = new Grid().AddColumn(new GridColumn().Padding(Indent, 0, 2, 0).NoWrap()).AddColumn(new GridColumn().Padding(0, 0, 0, 0));
        foreach (var (term, meaning) in listed)
        {
            grid.AddRow(new Text(term), new Text(meaning ?? ""));
        }

        var lines = new StringWriter();
        var console = TerminalConsole.Plain(lines);
        console.Profile.Width = around.Terminal?.Invoke().Width ?? console.Profile.Width;
        console.Write(grid);
        foreach (var line in lines.ToString().ReplaceLineEndings("\n").TrimEnd('\n').Split('\n'))
        {
            output.WriteLine(line.TrimEnd());
        }
    }
}
