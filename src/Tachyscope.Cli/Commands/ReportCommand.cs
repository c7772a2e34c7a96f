using System.CommandLine;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope report RUN.</summary>
internal static class ReportCommand
{
    public static Command Create(Surroundings around)
    {
        var saved = new SavedRun();
        var reporting = new RunReporting(around);
        var command = new Command("report",
            "Show a saved run, or the last, as if it had just been measured; with other blocks, and other questions to the same readings.");
        reporting.AddMarginTo(command);
        saved.AddTo(command);
        reporting.AddTo(command);
        command.SetAction(async (result, cancellation) =>
        {
            var (read, exitCode) = await saved.ReadAsync(around, result, cancellation);
            return read is { } run ? await reporting.ShowAsync(run, result) : exitCode;
        });
        return command;
    }
}
