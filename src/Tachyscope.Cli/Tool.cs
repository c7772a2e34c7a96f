using System.CommandLine;
using System.Reflection;
using Tachyscope.Cli.Commands;

namespace Tachyscope.Cli;

/// <summary>The tool: its commands, and what becomes of a command line.</summary>
internal static class Tool
{
    private static readonly TimeSpan PatienceAfterInterrupt = TimeSpan.FromSeconds(20);

    public static string Version { get; } =
        typeof(Tool).Assembly.GetCustomAttribute<AssemblyInformationalVersionAttribute>()?.InformationalVersion.Split('+')[0] ?? "0";

    public static async Task<int> InvokeAsync(string[] arguments, Surroundings around)
    {
        var root = new RootCommand("Measures alternative implementations of one small operation, and says which is faster, by how much, and how sure that is.")
        {
            RunCommand.Create(around),
            DuelCommand.Create(around),
            DemoCommand.Create(around),
            ReportCommand.Create(around),
            PayoffCommand.Create(around),
            SurveyCommand.Create(around),
        };
        var result = root.Parse(arguments);
        if (result.Errors.Count > 0)
        {
            foreach (var line in Complaints(result))
            {
                await around.Error.WriteLineAsync($"tachyscope: {line}");
            }

            return ExitCode.WrongUse;
        }

        return await result.InvokeAsync(new InvocationConfiguration
        {
            Output = around.Output,
            Error = around.Error,
            ProcessTerminationTimeout = PatienceAfterInterrupt,
        });
    }

    private static IEnumerable<string> Complaints(ParseResult result)
    {
        if (result.CommandResult.Command is RootCommand root)
        {
            var commands = string.Join(", ", root.Subcommands.Select(command => command.Name));
            var unknown = string.Join(' ', result.UnmatchedTokens);
            yield return unknown.Length == 0
                ? $"a command is missing; the commands are {commands}, and tachyscope --help tells more."
                : $"\"{unknown}\" is no command; the commands are {commands}, and tachyscope --help tells more.";
            yield break;
        }

        foreach (var error in result.Errors)
        {
            yield return error.Message;
        }

        yield return $"tachyscope {result.CommandResult.Command.Name} --help lists what is allowed.";
    }
}
