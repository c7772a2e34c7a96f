using System.CommandLine;
using Tachyscope.Cli.Demo;
using Tachyscope.Cli.Options;
using Tachyscope.Lab.Building;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope demo.</summary>
internal static class DemoCommand
{
    public static Command Create(Surroundings around)
    {
        var options = new MeasuringOptions();
        var command = new Command("demo", "Measure the studies of the harbour signal station that come with the tool.");
        options.AddTo(command);
        command.SetAction(async (result, cancellation) =>
        {
            if (BuildCache.ProblemOf(around.Cache) is { } problem)
            {
                return await around.ComplainAsync([problem], ExitCode.CouldNotRun);
            }

            var project = ShippedDemo.Unpack(around.Cache);
            return await new Measurement(around, options, result) { HistoryFolder = "." }.RunAsync(project, cancellation);
        });
        return command;
    }
}
