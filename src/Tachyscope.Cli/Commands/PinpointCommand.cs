using System.CommandLine;
using Tachyscope.Cli.Options;
using Tachyscope.Cli.Pinpoints;
using Tachyscope.Lab.Building;
using Tachyscope.Reports.Histories;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope pinpoint GOOD BAD [PROJECT].</summary>
internal sealed class PinpointCommand
{
    private const string Time = "time";
    private const string Bytes = "bytes";
    private const string Own = "own";

    private readonly Surroundings _around;
    private readonly MeasuringOptions _options = new();

    private readonly Argument<string> _good = new("GOOD") { Description = "A revision from before the change, such as v1.2 or HEAD~60." };
    private readonly Argument<string> _bad = new("BAD") { Description = "A later one, from after it." };

    private readonly Argument<string> _project = new("PROJECT")
    {
        Description = "The study project, its folder or a single .cs file; the current folder by default.", DefaultValueFactory = _ => ".",
    };

    private readonly Option<string> _cell = new("--cell")
    {
        Description = "The cell to follow, or a part of its name, such as \"lamps · sorted\"; the one that changed most by default.",
        HelpName = "TEXT", DefaultValueFactory = _ => "",
    };

    private readonly Option<string?> _follow = new("--follow")
    {
        Description = "What of the cell to follow: its time, or its bytes per call, which are exact and told at once; time by default "
            + "where "
            + "it is sure to have changed.",
        HelpName = $"{Time}|{Bytes}",
    };

    private readonly Option<string?> _study = new("--study")
    {
        Description = "Lay the study project of this revision, or now that of the work tree, over every commit; own measures each with "
            + "its own. Now by default, where the study has a folder of its own and something changed outside of it.",
        HelpName = $"{Revisions.Now}|{Own}|REVISION",
    };

    private PinpointCommand(Surroundings around)
    {
        _around = around;
        WordValue.Allow(_follow, [Time, Bytes]);
    }

    public static Command Create(Surroundings around)
    {
        var own = new PinpointCommand(around);
        var command = new Command("pinpoint", "Find the commit that changed a cell, measuring as few as possible.")
        {
            own._good, own._bad, own._project, own._cell, own._follow, own._study,
        };
        own._options.AddFewTo(command);
        command.SetAction(own.RunAsync);
        return command;
    }

    private async Task<int> RunAsync(ParseResult result, CancellationToken cancellation)
    {
        var (good, bad, project) = (result.GetValue(_good)!, result.GetValue(_bad)!, result.GetValue(_project)!);
        if (BuildCache.ProblemOf(_around.Cache) is { } homeless)
        {
            return await _around.ComplainAsync([homeless], ExitCode.CouldNotRun);
        }

        var chain = await CommitChain.ReadAsync(project, good, bad, cancellation);
        if (chain.Problem is { } problem)
        {
            return await _around.ComplainAsync([problem], ExitCode.WrongUse);
        }

        var display = new RunDisplay(_around, _options.Showing.IsPlain(result));
        var (isFolderChanged, isMoreChanged) = await Revisions.DifferencesAsync(project, good, bad, cancellation);
        var study = result.GetValue(_study) is { } asked ? asked == Own ? null : asked
            : isMoreChanged && await Revisions.HasFolderOfItsOwnAsync(project, cancellation) ? Revisions.Now : null;
        using var hunt = new ChangeHunt(_around, display, new Preparation(_around, display, _options.IsRebuilt(result)), new HuntAsk
        {
            Project = project, Good = good, Bad = bad, Commits = chain.Commits, Study = study,
            IsStudyHidden = isFolderChanged && study is not null, Cell = result.GetValue(_cell)!,
            IsByBytes = result.GetValue(_follow) is { } followed ? followed == Bytes : null,
            Plan = _options.FewPlan(result),
        });
        try
        {
            var (found, exitCode) = await hunt.RunAsync(cancellation);
            if (found is null)
            {
                return exitCode;
            }

            display.Show(PinpointReporter.Of(found));
            return found.IsFound ? ExitCode.Fine : ExitCode.Failed;
        }
        catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
        {
            return await _around.ComplainAsync(["interrupted; what was told of commits until then is shown above."], ExitCode.Interrupted);
        }
    }
}
