using System.CommandLine;
using System.Globalization;
using Tachyscope.Cli.Options;
using Tachyscope.Cli.Shares;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Shares;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Reports.Formats;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope plan [PROJECT].</summary>
internal sealed class PlanCommand
{
    private const int MostShares = 1_000;
    private const int StudiesNamed = 3;

    private readonly Surroundings _around;
    private readonly MeasuringOptions _options = new();

    private readonly Argument<string> _project = new("PROJECT")
    {
        Description = "A project, its folder, a single .cs file or a built .dll; the current folder by default.",
        DefaultValueFactory = _ => ".",
    };

    private readonly Option<int> _shares = new("--shares")
    {
        Description = "Cut the run into so many shares, each of whole studies; one for each study by default.",
        HelpName = "N", DefaultValueFactory = _ => MostShares,
        CustomParser = CountValue.UpTo(MostShares, "write how many shares there are to be, such as 12"),
    };

    private readonly Option<string[]> _machines = new("--machine")
    {
        Description = "A kind of machine to measure everything on, such as small; with several, they are put side by side. May be "
            + "repeated.",
        HelpName = "KIND",
    };

    private readonly Option<string> _into = new("--into")
    {
        Description = "The folder to write the shares to; shares by default.", HelpName = "FOLDER", DefaultValueFactory = _ => "shares",
    };

    private readonly Option<string[]> _for = new("--for")
    {
        Description = "Write what carries the shares, too: a job file for Slurm, or a script that goes by ssh. May be repeated.",
        HelpName = string.Join('|', JobKind.All.Select(kind => kind.Word)),
    };

    private readonly Option<string> _tool = new("--tool")
    {
        Description = "How this tool is called on those machines; tachyscope by default.",
        HelpName = "COMMAND", DefaultValueFactory = _ => "tachyscope",
    };

    private PlanCommand(Surroundings around)
    {
        _around = around;
        WordValue.Allow(_for, [.. JobKind.All.Select(kind => kind.Word)]);
        _machines.Validators.Add(given =>
        {
            foreach (var name in given.Tokens.Select(token => token.Value)
                .Where(name => name.Length == 0 || !name.All(letter => char.IsAsciiLetterOrDigit(letter) || letter is '_' or '.')))
            {
                given.AddError($"--machine {name}: a kind is named by letters, digits, _ and ., such as small; it becomes part of file "
                    + "names.");
            }
        });
    }

    public static Command Create(Surroundings around)
    {
        var own = new PlanCommand(around);
        var command = new Command("plan", "Cut a run into shares, files that other machines measure by tachyscope run --share.")
        {
            own._project, own._shares, own._machines, own._into, own._for, own._tool,
        };
        own._options.AddPlanTo(command);
        command.SetAction(own.RunAsync);
        return command;
    }

    private async Task<int> RunAsync(ParseResult result, CancellationToken cancellation)
    {
        var project = result.GetValue(_project)!;
        var folder = result.GetValue(_into)!;
        if (BuildCache.ProblemOf(_around.Cache) is { } homeless)
        {
            return await _around.ComplainAsync([homeless], ExitCode.CouldNotRun);
        }

        var asked = _options.Targets(result, project);
        if (asked.Mistakes.Count > 0)
        {
            return await _around.ComplainAsync(asked.Mistakes, ExitCode.WrongUse);
        }

        List<PreparedTarget> prepared = [];
        try
        {
            var display = new RunDisplay(_around, _options.Showing.IsPlain(result));
            var preparation = new Preparation(_around, display, _options.IsRebuilt(result));
            if (await preparation.FillAsync(prepared, project, asked.Targets, cancellation) is { } exitCode)
            {
                return exitCode;
            }

            var plan = _options.Plan(result);
            var experiment = new Experiment(new TargetStarters([.. prepared.Select(target => target.Starter!)]), plan,
                preparation.Surroundings(null)) { Targets = prepared };
            var (studies, refusals) = await experiment.DescribeAsync(cancellation);
            return refusals.Count > 0 ? await _around.ComplainAsync(refusals, ExitCode.WrongUse)
                : await WriteAsync(result, folder, display, Share.Cut(new Share
                {
                    Part = new RunShare { Plan = "", Number = 1, Count = 1 }, Tool = Tool.Version, Project = project, Studies = [],
                    Commit = prepared[0].Code is { IsDirty: false, Commit: { } commit } ? commit : null,
                    Targets = _options.Recipes(result), Machines = [.. (result.GetValue(_machines) ?? []).Distinct()],
                    Plan = plan with { Only = [] },
                }, studies, result.GetValue(_shares)));
        }
        finally
        {
            prepared.ForEach(target => target.Dispose());
        }
    }

    private async Task<int> WriteAsync(ParseResult result, string folder, RunDisplay display, IReadOnlyList<Share> shares)
    {
        var plan = shares[0].Part.Plan;
        if (Directory.Exists(folder) && Directory.EnumerateFiles(folder, "share-*.json").Where(ShareFile.IsOne)
            .Select(file => ShareFile.Read(file).Part.Plan).FirstOrDefault(other => other != plan) is { } other)
        {
            return await _around.ComplainAsync(
                [$"{folder} holds the shares of another plan, {other}; name another folder with --into, or remove that one."],
                    ExitCode.WrongUse);
        }

        Directory.CreateDirectory(folder);
        foreach (var share in shares)
        {
            ShareFile.Write(share, Path.Combine(folder, ShareFile.NameOf(share)));
        }

        foreach (var share in shares)
        {
            var more = share.Studies.Count - StudiesNamed;
            display.Say($"{Path.Combine(folder, ShareFile.NameOf(share))}: {string.Join(", ", share.Studies.Take(StudiesNamed))}"
                + (more > 0 ? string.Create(CultureInfo.InvariantCulture, $" and {more} more") : ""));
        }

        var kinds = (result.GetValue(_for) ?? []).Distinct().Select(word => JobKind.All.First(kind => kind.Word == word)).ToList();
        List<string> next = [];
        foreach (var kind in kinds)
        {
            foreach (var same in shares.GroupBy(share => share.Part.Machine))
            {
                var path = Path.Combine(folder, kind.FileName(same.Key));
                await File.WriteAllTextAsync(path, kind.Text([.. same], folder, result.GetValue(_tool)!));
                next.Add(kind.Begin(path));
            }
        }

        var each = Path.Combine(folder, ShareFile.NameOf(shares[0]));
        var back = Path.Combine(folder, ShareFile.RunNameOf(shares[0]));
        display.Say($"plan {plan}: {Quantity.Count(shares.Count)} share{(shares.Count == 1 ? "" : "s")}");
        display.Say($"next: {(next.Count == 0 ? $"tachyscope run --share {each} --out {back}, and so on" : string.Join("; ", next))}");
        display.Say($"then: tachyscope merge {folder}");
        return ExitCode.Fine;
    }
}
