using System.CommandLine;
using Tachyscope.Cli.Options;
using Tachyscope.Lab.Machines;
using Tachyscope.Reports.Machines;
using Tachyscope.Reports.Terminal;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope survey.</summary>
internal static class SurveyCommand
{
    public static Command Create(Surroundings around)
    {
        var plain = new PlainOption();
        var command = new Command("survey", "Tell what this machine is: its clock, its caches, and how steady it is now.") { plain.Option };
        command.SetAction(result =>
        {
            var console = around.IsTerminal && !plain.IsPlain(result)
                ? TerminalConsole.ForPerson(around.Output)
                : TerminalConsole.Plain(around.Output);
            SurveyView.Write(SurveyReporter.Report(Surveyor.Take()), console);
            return ExitCode.Fine;
        });
        return command;
    }
}
