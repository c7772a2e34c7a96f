using System.CommandLine;
using Tachyscope.Analysis.Gates;
using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Targets;
using Tachyscope.Cli.Gates;
using Tachyscope.Cli.Histories;
using Tachyscope.Cli.Options;
using Tachyscope.History;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Targets;
using Tachyscope.Reports.Histories;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope gate [PROJECT].</summary>
internal sealed class GateCommand
{
    private const double UsualWithinSeconds = 120;

    // An interval that tells no change from one beyond the margin.
    private const double PrecisionOfMargin = 0.5;

    private readonly Surroundings _around;
    private readonly MeasuringOptions _options = new();

    private readonly Argument<string> _project = new("PROJECT")
    {
        Description = "The study project, its folder or a single .cs file; the current folder by default.", DefaultValueFactory = _ => ".",
    };

    private readonly Option<string?> _against = new("--against")
    {
        Description = "What to hold the work tree against: a revision such as main, built and measured in the same run, or a saved run; "
            + "without it, declared limits alone.",
        HelpName = "REVISION|RUN",
    };

    private readonly Option<string?> _study = new("--study")
    {
        Description = "Lay the study project of the work tree over the revision too: a study written today holds yesterday's code. So it "
            + "is by itself where the revision has no such project.",
        HelpName = Revisions.Now,
    };

    private GateCommand(Surroundings around)
    {
        _around = around;
        WordValue.Allow(_study, [Revisions.Now]);
    }

    public static Command Create(Surroundings around)
    {
        var own = new GateCommand(around);
        var command = new Command("gate",
            "Pass or fail for continuous integration: slower, more allocation, or a limit broken ends with 1.")
        {
            own._project, own._against, own._study,
        };
        own._options.AddTo(command, hasTargets: false, hasOpponent: false);
        command.SetAction(own.RunAsync);
        return command;
    }

    private async Task<int> RunAsync(ParseResult result, CancellationToken cancellation)
    {
        var project = result.GetValue(_project)!;
        try
        {
            var (rules, within) = GateFile.Read(project);
            // What is said on the command line is said for all.
            if (_options.Margin(result) is { } margin)
            {
                rules = [.. rules.Select(rule => rule with { MarginShare = margin })];
            }

            var isOver = result.GetValue(_study) is not null;
            // What is not there says so when it is to be built.
            if (result.GetValue(_against) is not { } against || !Path.Exists(project))
            {
                return isOver ? await NothingToLayOverAsync("and --against names none") : await new Measurement(_around, _options, result)
                {
                    Planned = Within(within, null), Gate = (_, found) => Judged([], "", found),
                }.RunAsync(project, cancellation);
            }

            var folder = File.Exists(project) ? Path.GetDirectoryName(Path.GetFullPath(project))! : project;
            var precision = PrecisionOfMargin * rules.Min(rule => rule.MarginShare);
            if (Directory.Exists(folder) && await Revisions.CommitAsync(folder, against, cancellation) is not null)
            {
                isOver |= !await Revisions.WasThereAsync(project, against, cancellation);
                Target[] sides = [new() { Name = against, Revision = against, Study = isOver ? Revisions.Now : null },
                    new() { Name = Revisions.Now }];
                return await new Measurement(_around, _options, result)
                {
                    IsDuel = true, Asked = _ => new TargetSet(sides, []), Planned = Within(within ?? UsualWithinSeconds, precision),
                    Gate = (_, found) => Judged(GateJudgement.Of(GateCell.Of(found), rules),
                        isOver ? $"{against} with today's study laid over it" : against, found),
                }.RunAsync(project, cancellation);
            }

            return isOver ? await NothingToLayOverAsync($"and {against} is none")
                : await AgainstRunAsync(result, project, against, rules, precision, within, cancellation);
        }
        catch (InvalidDataException exception)
        {
            return await _around.ComplainAsync([exception.Message], ExitCode.WrongUse);
        }
        catch (HistoryException exception)
        {
            return await _around.ComplainAsync([exception.Message], ExitCode.CouldNotRun);
        }
    }

    private Task<int> NothingToLayOverAsync(string why)
        => _around.ComplainAsync([$"--study {Revisions.Now} is laid over a revision, {why}; leave it out."], ExitCode.WrongUse);

    private async Task<int> AgainstRunAsync(
        ParseResult result, string project, string against, IReadOnlyList<GateRule> rules, double precision, double? within,
        CancellationToken cancellation)
    {
        var place = _options.Saving.History.Place(result, project);
        var history = place is null ? null : RunHistory.OpenToRead(place);
        var (earlier, problem) = await new RunFinder(history, project).FindAsync(against, cancellation);
        if (earlier is null)
        {
            return await _around.ComplainAsync([await Revisions.MissingAsync(project, against, cancellation),
                $"nor is {against} a saved run: {problem}"], ExitCode.WrongUse);
        }

        return await new Measurement(_around, _options, result)
        {
            Planned = Within(within ?? UsualWithinSeconds, precision), Gate = (run, found) =>
            {
                var now = RunSummary.Of(run, found);
                var compared = RunComparison.Of(earlier.Summary, now, Repeats.Of(history, now), rules[0].MarginShare);
                return compared.Changes.Count == 0
                    ? GateOutcome.Unjudged(ComparisonReporter.NothingShared(compared, "this run"))
                    : compared.AreMachinesAlike || _options.IsInsisted(result)
                    ? Judged(GateJudgement.Of(GateCell.Of(compared), rules), RunWords.Name(earlier.Summary), found)
                    : GateOutcome.Unjudged($"{RunWords.Name(earlier.Summary)} was measured on {compared.Earlier.Machine}, and this "
                        + $"is {now.Machine}; hold it against a revision, or judge all the same with --insist.");
            },
        }.RunAsync(project, cancellation);
    }

    // What an option says holds.
    private static Func<RunPlan, RunPlan> Within(double? seconds, double? precisionShare)
        => plan => plan with { WithinSeconds = plan.WithinSeconds ?? seconds, PrecisionShare = plan.PrecisionShare ?? precisionShare };

    private static GateOutcome Judged(IReadOnlyList<GateJudgement> judged, string against, IReadOnlyList<StudyOnTargets> found)
    {
        string[] others = [.. from study in found
            let findings = study.Targets[^1]
            from input in findings.Inputs
            from cell in input.Cells
            from objection in GateReporter.Objections(input, cell)
            select $"{findings.Study.Name} · {cell.Variant.Name} · {input.Input.Label}: {objection.Text}"];
        return new GateOutcome(judged, GateReporter.Of(judged, against, others), others.Length > 0 || judged.Any(cell => cell.IsFailure));
    }
}
