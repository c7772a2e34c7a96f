using System.CommandLine;
using System.Text.RegularExpressions;
using Tachyscope.Cli.Options;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Shares;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope run [PROJECT].</summary>
internal sealed partial class RunCommand
{
    private readonly Surroundings _around;
    private readonly MeasuringOptions _options = new();
    private readonly Option<bool> _watch = Watch.Option();

    private readonly Argument<string> _project = new("PROJECT")
    {
        Description = "A project, its folder, a single .cs file or a built .dll; the current folder by default.",
        DefaultValueFactory = _ => ".",
    };

    private readonly Option<string?> _share = new("--share")
    {
        Description = "Measure what a share of a plan says, as tachyscope plan wrote it.", HelpName = "FILE",
    };

    private RunCommand(Surroundings around) => _around = around;

    public static Command Create(Surroundings around)
    {
        var own = new RunCommand(around);
        var command = new Command("run", "Measure the studies of a project.") { own._project };
        own._options.AddTo(command);
        command.Add(own._watch);
        command.Add(own._share);
        command.SetAction(own.RunAsync);
        return command;
    }

    private Task<int> RunAsync(ParseResult result, CancellationToken cancellation)
    {
        var path = result.GetValue(_project)!;
        return result.GetValue(_share) is { } share ? ShareAsync(result, share, cancellation)
            : result.GetValue(_watch)
                ? new Watch(_around)
                    .RunAsync([path], (last, again) => new Measurement(_around, _options, result) { Last = last }.FindAsync(path, again),
                        cancellation)
                : new Measurement(_around, _options, result).RunAsync(path, cancellation);
    }

    private async Task<int> ShareAsync(ParseResult result, string file, CancellationToken cancellation)
    {
        try
        {
            var share = ShareFile.Read(file);
            var project = result.GetResult(_project) is { Implicit: false } ? result.GetValue(_project)! : share.Project;
            if (await ProblemAsync(result, file, share, project, cancellation) is { } problem)
            {
                return await _around.ComplainAsync([problem], ExitCode.WrongUse);
            }

            return await new Measurement(_around, _options, result)
            {
                Share = share.Part,
                Planned = _ => share.Plan with { Only = [.. share.Studies.Select(name => Special().Replace(name, @"\$0"))] },
                Asked = where => Targets(share, where),
            }.RunAsync(project, cancellation);
        }
        catch (InvalidDataException exception)
        {
            return await _around.ComplainAsync([exception.Message], ExitCode.WrongUse);
        }
    }

    private async Task<string?> ProblemAsync(ParseResult result, string file, Share share, string project, CancellationToken cancellation)
    {
        if (_options.Given(result).ToList() is { Count: > 0 } given)
        {
            return $"what is measured, and how, is in {file}; leave out {string.Join(" and ", given)}, or plan again with it.";
        }

        if (share.Tool != Tool.Version)
        {
            return $"{file} was planned by tachyscope {share.Tool}, and this is {Tool.Version}; use that one, or plan again.";
        }

        var code = Path.Exists(project) ? await Revisions.StateAsync(project, cancellation) : null;
        return share.Commit is { } commit && code?.Commit is { } there && (there != commit || code.IsDirty) && !_options.IsInsisted(result)
            ? $"{file} was planned at commit {commit[..8]}, and {project} is at {there[..8]}{(code.IsDirty ? " with changes" : "")}; "
                + "check that "
                + "commit out, plan again, or measure all the same with --insist."
            : null;
    }

    private static TargetSet Targets(Share share, string project)
    {
        var (named, mistake) = NamedTargets.Of(project);
        return mistake is null ? TargetParser.Parse(share.Targets, named) : new TargetSet([], [mistake]);
    }

    // What stands for anything in a pattern stands for itself in a name.
    [GeneratedRegex(@"[*?\\]")]
    private static partial Regex Special();
}
