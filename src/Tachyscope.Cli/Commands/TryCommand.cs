using System.CommandLine;
using Tachyscope.Analysis.Histories;
using Tachyscope.Cli.Options;
using Tachyscope.Cli.Tries;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;
using Tachyscope.Snippets;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope try CODE….</summary>
internal sealed class TryCommand
{
    private const string StandardInput = "-";

    private readonly Argument<string[]> _code = new("CODE")
    {
        Description = "A C# expression, or statements that return; 'label: CODE' names it. A .cs file with either, or - for standard "
            + "input. The first is what the others are compared with; one alone is timed.",
        Arity = ArgumentArity.ZeroOrMore,
    };

    private readonly Option<string[]> _given = Many("--given", "CODE",
        "Statements carried out outside the timing, once for each input; snippets use what they declare. May be repeated.");
    private readonly Option<string[]> _inputs = Many("--input", "NAME = VALUES",
        "A variable and its values, such as 'n = 10, 100, 1000'. May be repeated: every combination is an input.");
    private readonly Option<string[]> _usings = Many("--using", "NAMESPACE",
        "A namespace in scope beyond the usual ones. May be repeated.");
    private readonly Option<string[]> _packages = Many("--package", "NAME[=VERSION]",
        "A package to use, in its newest version unless one is named. May be repeated.");
    private readonly Option<string[]> _references = Many("--reference", "FILE.dll", "An assembly to use. May be repeated.");
    private readonly Option<string[]> _projects = Many("--project", "PROJECT",
        "A project whose types are in scope, internal ones too unless it is signed; built in Release. May be repeated.");

    private readonly Option<string?> _dial = new("--dial")
    {
        Description = "A number to be turned, such as 'block = 16, 64, 256': each snippet that uses it is measured at every setting.",
        HelpName = "NAME = SETTINGS",
    };

    private readonly Option<string?> _old = new("--old")
    {
        Description = "Measure everything with what was, too, each against itself: a revision or folder of the --project, or "
            + "NAME=VERSION of "
            + "a --package.",
        HelpName = "REVISION|FOLDER|NAME=VERSION",
    };

    private readonly Option<Agreement?> _agree = new("--agree")
    {
        Description = "How far answers may differ: numbers by a share such as 1e-9; any, where each call gives another, as a clock or "
            + "chance does. Not at all by default.",
        HelpName = "SHARE|any",
        CustomParser = Agreement.Parse,
    };

    private readonly Option<bool> _watch = Watch.Option();
    private readonly MeasuringOptions _options = new();
    private readonly Surroundings _around;

    private TryCommand(Surroundings around) => _around = around;

    public static Command Create(Surroundings around)
    {
        var own = new TryCommand(around);
        var command = new Command("try", "Compare pieces of C# straight from the command line.") { own._code };
        foreach (var option in (Option[])[own._given, own._inputs, own._dial, own._usings, own._packages, own._references, own._projects])
        {
            command.Add(option);
        }

        command.Add(own._old);
        command.Add(own._agree);
        own._options.AddTo(command, hasStudies: false);
        command.Add(own._watch);
        command.SetAction(own.RunAsync);
        return command;
    }

    private async Task<int> RunAsync(ParseResult result, CancellationToken cancellation)
    {
        if (!result.GetValue(_watch))
        {
            return (await MeasureAsync(result, last: null, cancellation)).ExitCode;
        }

        string[] places = [.. (result.GetValue(_code) ?? []).Where(IsFile), .. result.GetValue(_projects) ?? []];
        return places.Length == 0
            ? await _around.ComplainAsync(["--watch has nothing to watch: put the code into a .cs file, or name a --project."],
                ExitCode.WrongUse)
            : await new Watch(_around).RunAsync(places, (last, again) => MeasureAsync(result, last, again), cancellation);
    }

    private async Task<(int ExitCode, RunSummary? Found)> MeasureAsync(ParseResult result, RunSummary? last, CancellationToken cancellation)
    {
        if (BuildCache.ProblemOf(_around.Cache) is { } homeless)
        {
            return (await _around.ComplainAsync([homeless], ExitCode.CouldNotRun), null);
        }

        var (snippets, mistake) = await SnippetsAsync(result, cancellation);
        if (mistake is not null)
        {
            return (await _around.ComplainAsync([mistake], ExitCode.WrongUse), null);
        }

        var (projects, packages) = (result.GetValue(_projects) ?? [], result.GetValue(_packages) ?? []);
        var (now, exitCode) = await LayAsync(result, snippets, projects, packages, cancellation);
        if (now is null || result.GetValue(_old) is not { } old)
        {
            return now is null ? (exitCode, null) : await new Measurement(_around, _options, result)
            {
                Asked = _ => _options.Targets(result, "."),
                HistoryFolder = ".",
                Last = last,
            }.FindAsync(_options.HasTargets(result) ? now.Project : now.Assembly, cancellation);
        }

        var side = await OldSide.FindAsync(old, projects, packages, _around.Cache, cancellation);
        if (side.Problem is not null || _options.HasTargets(result))
        {
            return (await _around.ComplainAsync(
                [side.Problem ?? "--old and --target both say what is compared; leave one of them out."], ExitCode.WrongUse), null);
        }

        var (was, oldExitCode) = await LayAsync(result, snippets, side.Projects, side.Packages, cancellation, $" with {old}");
        return was is null ? (oldExitCode, null) : await new Measurement(_around, _options, result)
        {
            Asked = _ => new TargetSet(
                [new Target { Name = old, Folder = was.Assembly }, new Target { Name = Revisions.Now, Folder = now.Assembly }], []),
            HistoryFolder = ".",
            Last = last,
        }.FindAsync(now.Assembly, cancellation);
    }

    // The snippets with what they use, compiled; or the exit code of what was complained of.
    private async Task<(TryFolder? Folder, int ExitCode)> LayAsync(
        ParseResult result, IReadOnlyList<Snippet> snippets, IReadOnlyList<string> projects, IReadOnlyList<string> packages,
        CancellationToken cancellation, string with = "")
    {
        var borrowed = new Borrowed(_around.Cache);
        if (await BorrowAsync(borrowed, result, projects, packages, cancellation) is { } exitCode)
        {
            return (null, exitCode);
        }

        var wish = new SnippetWish
        {
            Variants = snippets,
            Given = result.GetValue(_given) ?? [],
            Inputs = result.GetValue(_inputs) ?? [],
            Dial = result.GetValue(_dial),
            Usings = result.GetValue(_usings) ?? [],
            References = borrowed.References,
            Projects = borrowed.Projects,
            Tolerance = result.GetValue(_agree)?.Tolerance,
            IsAnyAnswerTaken = result.GetValue(_agree) is { Tolerance: null },
        };
        var (folder, made) = TryFolder.Lay(_around.Cache, wish, borrowed.RuntimeSettings);
        if (folder is null)
        {
            return (null, await _around.ComplainAsync([.. with.Length == 0 ? (string[])[] : [$"it does not compile{with}:"],
                .. made.Problems.SelectMany(problem => problem.Lines())], ExitCode.WrongUse));
        }

        await _around.ComplainAsync(with.Length == 0 ? made.Doubts.SelectMany(doubt => doubt.Lines()) : [], ExitCode.Fine);
        return (folder, ExitCode.Fine);
    }

    private static bool IsFile(string argument) => argument.EndsWith(".cs", StringComparison.OrdinalIgnoreCase) && File.Exists(argument);

    private async Task<int?> BorrowAsync(
        Borrowed borrowed, ParseResult result, IReadOnlyList<string> projects, IReadOnlyList<string> packages,
            CancellationToken cancellation)
    {
        foreach (var file in result.GetValue(_references) ?? [])
        {
            if (borrowed.AddFile(file) is { } problem)
            {
                return await _around.ComplainAsync([problem], ExitCode.WrongUse);
            }
        }

        foreach (var project in projects)
        {
            if (await borrowed.AddProjectAsync(project, cancellation) is { Assembly: null } failed)
            {
                return await ToldAsync($"--project {project}", failed);
            }
        }

        return packages.Count > 0
            && await borrowed.AddPackagesAsync(packages, cancellation) is { Assembly: null } missing
            ? await ToldAsync($"--package {string.Join(' ', packages)}", missing)
            : null;
    }

    private Task<int> ToldAsync(string what, BuildOutcome failed)
        => _around.ComplainAsync([$"{what} could not be built:", .. failed.Errors], failed.IsWrongUse ? ExitCode.WrongUse
            : ExitCode.CouldNotRun);

    private async Task<(IReadOnlyList<Snippet> Snippets, string? Mistake)> SnippetsAsync(ParseResult result, CancellationToken cancellation)
    {
        var arguments = result.GetValue(_code) ?? [];
        if (arguments.Length == 0)
        {
            return ([],
                "there is no code to try; write it in quotes, as in: "
                + "tachyscope try 'text.Split(\",\")' 'text.IndexOf(\",\")' --given 'var text = \"a,b\";'");
        }

        // "--n" is C#; "--givn" is an option misspelt.
        foreach (var argument in arguments.Where(argument => argument.StartsWith("--", StringComparison.Ordinal)))
        {
            if (Nearest.To(argument, result.CommandResult.Command.Options.Select(option => option.Name)) is { } near)
            {
                return ([], $"\"{argument}\" is no option of try; {near} is the nearest.");
            }
        }

        List<Snippet> snippets = [];
        foreach (var argument in arguments)
        {
            if (argument == StandardInput)
            {
                snippets.Add(Snippet.Of(await _around.Input.ReadToEndAsync(cancellation)));
            }
            else if (IsFile(argument))
            {
                snippets.Add(new Snippet(Path.GetFileNameWithoutExtension(argument), await File.ReadAllTextAsync(argument, cancellation)));
            }
            else
            {
                snippets.Add(Snippet.Of(argument));
            }
        }

        return (Snippet.Apart(snippets), null);
    }

    private static Option<string[]> Many(string name, string value, string description)
        => new(name) { Description = description, HelpName = value, AllowMultipleArgumentsPerToken = false };
}
