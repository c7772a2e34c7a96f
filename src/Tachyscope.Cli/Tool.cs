using System.CommandLine;
using System.CommandLine.Help;
using System.Reflection;
using Tachyscope.Cli.Commands;
using Tachyscope.Cli.Options;

namespace Tachyscope.Cli;

/// <summary>The tool: its commands, and what becomes of a command line.</summary>
internal static class Tool
{
    public static string Version { get; } =
        typeof(Tool).Assembly.GetCustomAttribute<AssemblyInformationalVersionAttribute>()?.InformationalVersion.Split('+')[0] ?? "0";

    public static async Task<int> InvokeAsync(string[] arguments, Surroundings around, CancellationToken cancellation = default)
    {
        var exitCode = await TryAsync(arguments, around, cancellation);
        // Last, when everything that could be shown and saved is.
        if (around.Output is not SteadyWriter { Failure: { } lost })
        {
            return exitCode;
        }

        var told = exitCode == ExitCode.Fine ? ExitCode.CouldNotRun : exitCode;
        return await around.ComplainAsync([$"not everything could be written to standard output: {lost}"], told);
    }

    private static async Task<int> TryAsync(string[] arguments, Surroundings around, CancellationToken cancellation)
    {
        var root = Root(around);
        var result = root.Parse(arguments, new ParserConfiguration { ResponseFileTokenReplacer = null });
        // Who asks for help need not have named what else is needed.
        if (result.Errors.Count > 0 && result.Action is not HelpPage)
        {
            return await around.ComplainAsync(Complaints(result), ExitCode.WrongUse);
        }

        try
        {
            return await result.InvokeAsync(
                new InvocationConfiguration
                {
                    Output = around.Output,
                    Error = around.Error,
                    EnableDefaultExceptionHandler = false,
                    // Signals are the caller's, which knows more of them.
                    ProcessTerminationTimeout = null,
                },
                cancellation);
        }
        catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
        {
            return await around.ComplainAsync(["interrupted before anything was measured."], ExitCode.Interrupted);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return await around.ComplainAsync([$"a file or folder could not be used: {exception.Message}"], ExitCode.CouldNotRun);
        }
#pragma warning disable CA1031 // Whatever it is, whoever called gets a sentence and an exit code that means what it says.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            var what = $"{exception.GetType().Name}: {exception.Message}";
            var trace = (exception.StackTrace ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Select(line => $"    {line.Trim()}");
            return await around.ComplainAsync(
                [$"this is a mistake of tachyscope {Version} and not yours: {what}; please report it with these lines:", .. trace],
                ExitCode.CouldNotRun);
        }
    }

    /// <summary>All commands.</summary>
    internal static RootCommand Root(Surroundings around)
    {
        var root = new RootCommand(
            "Measures alternative implementations of one small operation, and says which is faster, by how much, and how sure that is.")
        {
            TryCommand.Create(around),
            NewCommand.Create(around),
            RunCommand.Create(around),
            DuelCommand.Create(around),
            ReportCommand.Create(around),
            CaveatCommand.Create(around),
            CodeCommand.Create(around),
            CompareCommand.Create(around),
            TrendCommand.Create(around),
            GateCommand.Create(around),
            PinpointCommand.Create(around),
            HistoryCommand.Create(around),
            PlanCommand.Create(around),
            MergeCommand.Create(around),
            SurveyCommand.Create(around),
            GuestCommand.Create(around),
            DemoCommand.Create(around),
            CompletionCommand.Create(around),
        };
        foreach (var option in root.Options.OfType<HelpOption>())
        {
            option.Action = new HelpPage(around);
        }

        return root;
    }

    private static IEnumerable<string> Complaints(ParseResult result)
    {
        if (result.CommandResult.Command is RootCommand root)
        {
            var commands = string.Join(", ", root.Subcommands.Select(command => command.Name));
            var unknown = string.Join(' ', result.UnmatchedTokens);
            var near = Nearest.To(unknown.Length == 0 ? null : result.UnmatchedTokens[0], root.Subcommands.Select(command => command.Name));
            var meant = near is null ? "" : $" {near} is the nearest;";
            yield return unknown.Length == 0
                ? $"a command is missing; the commands are {commands}, and tachyscope --help tells more."
                : $"\"{unknown}\" is no command;{meant} the commands are {commands}, and tachyscope --help tells more.";
            yield break;
        }

        foreach (var error in result.Errors)
        {
            var option = result.UnmatchedTokens.FirstOrDefault(token => token.StartsWith('-')
                && error.Message.Contains($"'{token}'", StringComparison.Ordinal));
            var near = Nearest.To(option, result.CommandResult.Command.Options.Select(known => known.Name));
            yield return near is null ? error.Message
                : $"\"{option}\" is no option of {HelpPage.NameOf(result.CommandResult.Command)}; {near} is the nearest.";
        }

        yield return $"tachyscope {HelpPage.NameOf(result.CommandResult.Command)} --help lists what is allowed.";
    }
}
