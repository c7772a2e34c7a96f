using System.CommandLine;
using Tachyscope.Cli.Options;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope run [PROJECT].</summary>
internal static class RunCommand
{
    public static Command Create(Surroundings around)
    {
        var project = new Argument<string>("PROJECT")
        {
            Description = "A project, its folder, a single .cs file or a built .dll; the current folder by default.",
            DefaultValueFactory = _ => ".",
        };
        var options = new MeasuringOptions();
        var command = new Command("run", "Measure the studies of a project.") { project };
        options.AddTo(command);
        var watch = Watch.Option();
        command.Add(watch);
        command.SetAction((result, cancellation) =>
        {
            var path = result.GetValue(project)!;
            return result.GetValue(watch)
                ? new Watch(around).RunAsync([path], again => new Measurement(around, options, result).FindAsync(path, again), cancellation)
                : new Measurement(around, options, result).RunAsync(path, cancellation);
        });
        return command;
    }
}
