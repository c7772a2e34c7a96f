using System.CommandLine;
using Tachyscope.Cli.Options;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope duel OLD NEW [PROJECT].</summary>
internal static class DuelCommand
{
    public static Command Create(Surroundings around)
    {
        var old = new Argument<string>("OLD") { Description = "What was: a revision such as v1.2 or HEAD~3, a folder, a target such as "
            + "package:NAME=1.0, or now, the work tree as it is." };
        var @new = new Argument<string>("NEW") { Description = "What is to be compared with it, said in the same ways." };
        var project = new Argument<string>("PROJECT")
        {
            Description = "The study project, its folder or a single .cs file; the current folder by default.",
            DefaultValueFactory = _ => ".",
        };
        var study = new Option<string?>("--study")
        {
            Description = "Lay the study project of this revision, or now that of the work tree, over both revisions: a study written "
                + "today measures yesterday's code.",
            HelpName = "now|REVISION",
        };
        var options = new MeasuringOptions();
        var command = new Command("duel",
            "Measure two revisions, folders, package versions or targets in one run, and each variant against itself.")
        {
            old, @new, project, study,
        };
        options.AddTo(command, hasTargets: false);
        command.SetAction((result, cancellation) =>
        {
            string[] sides = [result.GetValue(old)!, result.GetValue(@new)!];
            return new Measurement(around, options, result) { IsDuel = true,
                Asked = path => Sides(sides, result.GetValue(study), path) }.RunAsync(result.GetValue(project)!, cancellation);
        });
        return command;
    }

    private static TargetSet Sides(string[] sides, string? study, string project)
    {
        var (named, mistake) = NamedTargets.Of(project);
        var read = sides.Select(side => Side(side, study, named)).ToList();
        return new TargetSet(
            [.. read.SelectMany(side => side.Targets)],
            [
                .. mistake is null ? (string[])[] : [mistake],
                .. read.SelectMany(side => side.Mistakes).Distinct(),
                .. read.Zip(sides).Where(pair => pair.First.Targets.Count > 1)
                .Select(pair => $"{pair.Second} is {pair.First.Targets.Count} targets, and a duel has one on each side; write one, or "
                    + "measure them all with run --target."),
                .. sides[0] == sides[1]
                    ? [$"both sides are {sides[0]}; name two that differ, or give one of them a name, as in {sides[0]},name=again."]
                    : (string[])[],
                .. study is not null && read.TrueForAll(side => side.Targets.All(target => target.Revision is null))
                    ? [$"--study {study} is laid over revisions, and neither side is one; leave it out."]
                    : (string[])[],
            ]);
    }

    private static TargetSet Side(string side, string? study, IReadOnlyDictionary<string, string> named)
        => side == Revisions.Now ? new TargetSet([new Target { Name = side }], [])
            : named.ContainsKey(side) || TargetParser.IsRecipe(side) ? TargetParser.Parse([side], named) is var set && study is null ? set
            : set with { Targets = [.. set.Targets.Select(target => target.Revision is null ? target
            : target with { Study = target.Study ?? study })] }
            : Path.Exists(side) ? new TargetSet([new Target { Name = side, Folder = side }], [])
            : new TargetSet([new Target { Name = side, Revision = side, Study = study }], []);
}
