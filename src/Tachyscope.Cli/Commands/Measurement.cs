using System.CommandLine;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Targets;
using Tachyscope.Cli.Codes;
using Tachyscope.Cli.Gates;
using Tachyscope.Cli.Histories;
using Tachyscope.Cli.Options;
using Tachyscope.Cli.Rehearsals;
using Tachyscope.Exports;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Diagnoses;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Targets;
using Tachyscope.Lab.Workers;
using Tachyscope.Reports.Codes;
using Tachyscope.Reports.Studies;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Commands;

/// <summary>Builds, measures, saves and shows: what every measuring command does once it knows its project.</summary>
internal sealed class Measurement(Surroundings around, MeasuringOptions options, ParseResult result)
{
    private const double ClosingSeconds = 0.15;

    private readonly RunPlan _asked = options.Plan(result);
    private readonly RunSaver _saver = new(around, options.Out.Run(result));
    private readonly RunDisplay _display = new(around, options.Showing.IsPlain(result));
    private readonly AnalysisOptions _reading = new() { Against = options.Showing.Opponent(result) };
    private readonly AnalysisOptions _contrasts = new() { Against = options.Showing.Opponent(result), AreContrastsOnly = true };
    private readonly List<StudyOnTargets> _shown = [];
    private RunKeeper _keeper = null!;
    private RunSummary? _summary;
    private string _project = ".";

    private RunPlan Plan => Planned(_asked);

    /// <summary>What is made of what the options ask for; that by default.</summary>
    public Func<RunPlan, RunPlan> Planned { get; init; } = plan => plan;

    /// <summary>Which part of a planned run it is; null for a whole one.</summary>
    public RunShare? Share { get; init; }

    /// <summary>Targets to measure on, given the project; those of --target by default.</summary>
    public Func<string, TargetSet>? Asked { get; init; }

    /// <summary>Whether what is on one side only is of no use.</summary>
    public bool IsDuel { get; init; }

    /// <summary>Judges the run once it is over; null for nothing but its own limits.</summary>
    public Func<Run, IReadOnlyList<StudyOnTargets>, GateOutcome>? Gate { get; init; }

    /// <summary>Where its history is looked for; beside the project by default.</summary>
    public string? HistoryFolder { get; init; }

    /// <summary>What was measured the last time, to tell what changed; null for nothing.</summary>
    public RunSummary? Last { get; init; }

    /// <summary>The same, with what was found; null for nothing.</summary>
    public async Task<(int ExitCode, RunSummary? Found)> FindAsync(string project, CancellationToken cancellation)
        => (await RunAsync(project, cancellation), _summary);

    public async Task<int> RunAsync(string project, CancellationToken cancellation)
    {
        if (options.Out.Problem(result) is { } problem)
        {
            return await around.ComplainAsync([problem], ExitCode.WrongUse);
        }

        AnswerRehearsal.Begin(around, options.Showing.IsPlain(result), options.Showing.Report(result));
        if (BuildCache.ProblemOf(around.Cache) is { } homeless)
        {
            return await around.ComplainAsync([homeless], ExitCode.CouldNotRun);
        }

        _project = project;
        _keeper = new RunKeeper(around, options.Saving, result, HistoryFolder ?? project);
        if (_keeper.Problem() is { } noHistory)
        {
            return await around.ComplainAsync([noHistory], ExitCode.WrongUse);
        }

        var asked = Asked?.Invoke(project) ?? options.Targets(result, project);
        if (asked.Mistakes.Count > 0)
        {
            return await around.ComplainAsync(asked.Mistakes, ExitCode.WrongUse);
        }

        List<PreparedTarget> prepared = [];
        try
        {
            var begun = around.Spent;
            var preparation = new Preparation(around, _display, options.IsRebuilt(result))
            {
                IsPaceKept = Plan.Diagnoses.Contains(DiagnosisKind.FirstCall),
            };
            foreach (var target in asked.Targets.DefaultIfEmpty(new Target { Name = "" }))
            {
                prepared.Add(await preparation.MakeAsync(project, target, cancellation));
            }

            // A target that cannot be had is told; the others are measured.
            var failed = prepared.FindAll(target => target.Starter is null);
            foreach (var target in failed)
            {
                await preparation.ComplainAsync(project, target);
            }

            prepared.RemoveAll(failed.Contains);
            if (prepared.Count == 0 || (IsDuel && failed.Count > 0))
            {
                return failed[0].IsWrongUse ? ExitCode.WrongUse : ExitCode.CouldNotRun;
            }

            preparation.SayWhatWasBuilt(prepared, around.Spent - begun);
            if (IsDuel)
            {
                preparation.SayWhatIsTheSame(prepared);
            }

            var exitCode = await MeasureAsync(preparation, prepared, cancellation);
            KnownStudies.Keep(around.Cache, project, _shown.Select(study => study.Targets[0].Study.Name)
                .Distinct(), areAll: Plan.Only.Count == 0);
            return exitCode == ExitCode.Fine && failed.Count > 0 ? ExitCode.CouldNotRun : exitCode;
        }
        catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
        {
            return await around.ComplainAsync(["interrupted before anything was measured."], ExitCode.Interrupted);
        }
        finally
        {
            prepared.ForEach(target => target.Dispose());
        }
    }

    private async Task<int> MeasureAsync(Preparation preparation, List<PreparedTarget> targets, CancellationToken cancellation)
    {
        // Showing and saving count: --within is all the time from the first worker's start.
        var plan = Plan with { WithinSeconds = Plan.WithinSeconds is { } within ? Math.Max(0.5, within - ClosingSeconds) : null };
        using var guests = preparation.Guests(_project);
        var outcome = await _display.WhileMeasuringAsync(progress =>
        {
            var starters = new TargetStarters([.. targets.Select(target => target.Starter!)]);
            var experiment = new Experiment(starters, plan, preparation.Surroundings(progress) with
            {
                Save = run => _saver.Save(run with { Command = Command, Share = Share }),
                StudyDone = Show,
                AreAnswersKeptWhole = Share?.Machine is not null,
                SittingDone = (run, study) => _display.ShowSoFar(() => StudyReporter.ReportTargets(
                    run, TargetAnalyst.Examine(run, study, _contrasts), null, options.Showing.Report(result)).First()),
                Judge = (run, study) => Judge(TargetAnalyst.Examine(run, study, _contrasts)),
            })
            {
                Targets = targets,
                IsOnlyCommonMeasured = IsDuel,
                Guests = guests,
            };
            return experiment.RunAsync(cancellation);
        });
        preparation.SayWhatWasBuilt(guests);
        var isInterrupted = cancellation.IsCancellationRequested;
        var exitCode = await CloseAsync(outcome, isInterrupted,
            () => options.IsCodeExplained(result) ? ExplainAsync(targets[0], plan, cancellation)
                : Task.FromResult<Dictionary<string, CodeReport>>([]));
        if (exitCode is not (ExitCode.Fine or ExitCode.Failed))
        {
            return exitCode;
        }

        try
        {
            if (options.AreSpeedsExplained(result))
            {
                await TrySpeedsAsync(preparation, targets[0], plan, cancellation);
            }
        }
        catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
        {
            // Told below, as where it was noticed in time.
        }

        return cancellation.IsCancellationRequested
            ? await around.ComplainAsync(["interrupted while it was looked for reasons; what was measured stands above."],
                ExitCode.Interrupted)
            : exitCode;
    }

    // What in the code of the first target may make the difference, now that it is known; as far as it came when it is interrupted.
    private async Task<Dictionary<string, CodeReport>> ExplainAsync(PreparedTarget target, RunPlan plan, CancellationToken cancellation)
    {
        var isOnPage = options.Out.Shown(result).Any(ExportFile.HoldsCode);
        var reports = new Dictionary<string, CodeReport>();
        try
        {
            foreach (var study in _shown.Select(study => study.Targets[0]))
            {
                var watch = new CodeWatch(plan with { WithinSeconds = null });
                var look = new CodeLook(watch, study.Study.Name, []) { IsLoweredRead = isOnPage };
                var (codes, problem) = await look.AtAsync(target, cancellation);
                IReadOnlyList<(Tone Tone, string Text)> told = problem is null ? WhyReporter.Of(codes, study, probes: null)
                    : [(Tone.Aside, problem)];
                foreach (var (tone, text) in told)
                {
                    _display.Say($"{study.Study.Name} · why {tone.Sign()} {text}");
                }

                reports[study.Study.Name] = CodeReporter.Of(study.Study.Name, codes, CodeBlocks.Words, told);
            }
        }
        catch (OperationCanceledException) when (cancellation.IsCancellationRequested)
        {
            // Told at the end.
        }

        return reports;
    }

    // What makes code of the first target settle at several speeds.
    private async Task TrySpeedsAsync(Preparation preparation, PreparedTarget target, RunPlan plan, CancellationToken cancellation)
    {
        var trials = new SpeedTrials(_project, preparation, _display);
        foreach (var study in _shown.Select(study => study.Targets[0]).TakeWhile(_ => !cancellation.IsCancellationRequested))
        {
            foreach (var line in await trials.RunAsync(target, study, plan, cancellation))
            {
                _display.Say($"{study.Study.Name} · why several speeds {line}");
            }
        }
    }

    private async Task<int> CloseAsync(
        RunOutcome outcome, bool isInterrupted, Func<Task<Dictionary<string, CodeReport>>> look)
    {
        if (isInterrupted && (outcome.Run is null || outcome.Run.Studies.All(study => study.Sittings.Count == 0)))
        {
            return await around.ComplainAsync(["interrupted before anything was measured."], ExitCode.Interrupted);
        }

        if (outcome.Run is not { } measured)
        {
            return await around.ComplainAsync(outcome.Refusals, outcome.CouldNotRun ? ExitCode.CouldNotRun : ExitCode.WrongUse);
        }

        var run = measured with { Command = Command, Share = Share };
        if (run.State == RunState.Interrupted && run.Studies.Count > 0 && run.Studies[^1].Sittings.Count > 0
            && !_display.HasShown(run.Studies[^1]))
        {
            Show(run, run.Studies[^1]);
        }

        _display.ShowRun(run, _shown, options.Showing.IsMoreShown(result));
        LastRun.Keep(around.Cache, run, _shown);
        _summary = RunSummary.Of(run, _shown);
        foreach (var line in _keeper.Since(_summary, Last, run.Plan.MarginShare))
        {
            _display.Say(line);
        }

        foreach (var aside in outcome.Aside)
        {
            _display.Say($"{aside}, which is not measured");
        }

        var gate = Gate?.Invoke(run, _shown);
        if (gate?.Report is { } judged)
        {
            _display.Show(judged);
        }

        var codes = isInterrupted ? [] : await look();
        var (written, problems) = await Exporter.WriteAsync(new Export(run, _shown) { Gate = gate?.Judged ?? [], Codes = codes },
            options.Out.Shown(result));
        foreach (var file in written)
        {
            _display.Say($"written to {file}");
        }

        if (problems.Count > 0)
        {
            await around.ComplainAsync(problems, ExitCode.CouldNotRun);
        }

        if (_keeper.Keep(run, _summary) is ({ } kept, var isLost))
        {
            if (isLost)
            {
                return await around.ComplainAsync([kept], ExitCode.CouldNotRun);
            }

            _display.Say(kept);
        }

        if (_saver.Problem(run) is { } unsaved)
        {
            return await around.ComplainAsync([unsaved], ExitCode.CouldNotRun);
        }

        if (_saver.IsSaved)
        {
            _display.Say(_saver.Said);
        }

        if (isInterrupted)
        {
            return await around.ComplainAsync([$"interrupted; {_saver.Left}"], ExitCode.Interrupted);
        }

        return problems.Count > 0 ? ExitCode.CouldNotRun
            : gate?.Problem is { } unjudged ? await around.ComplainAsync([unjudged], ExitCode.CouldNotRun)
            : gate?.IsClosed == true ? ExitCode.Failed
            : run.Studies.Any(study => study.Failures.Any(failure
                => failure.Kind is not (CellFailureKind.Missing or CellFailureKind.NotBuilt)))
            || _shown.Exists(study => study.Targets.Any(findings => findings.IsAnyLimitMissed)) ? ExitCode.Failed
            : run.Studies.Any(study => study.Failures.Any(failure => failure.Kind == CellFailureKind.NotBuilt)) ? ExitCode.CouldNotRun
            : ExitCode.Fine;
    }

    private void Show(Run run, StudyRecord study)
    {
        var found = TargetAnalyst.Examine(run, study, _reading);
        _shown.Add(found);
        _display.Show(study, StudyReporter.ReportTargets(run, found, study.Note, options.Showing.Report(result)));
    }

    // Without the files it wrote, and without the server it was kept on.
    private string Command
    {
        get
        {
            List<string> words = ["tachyscope"];
            var tokens = result.Tokens;
            for (var index = 0; index < tokens.Count; index++)
            {
                if (tokens[index].Value == options.Out.Option.Name || tokens[index].Value == options.Saving.History.Option.Name)
                {
                    index++;
                    continue;
                }

                words.Add(tokens[index].Value);
            }

            return CommandText.Of(words);
        }
    }

    // A gate asks what became of each cell, and not how variants compare.
    private Standing Judge(StudyOnTargets found) => Gate is not null && found.Targets.Count > 1 && Plan.PrecisionShare is { } across
        ? new Standing { IsPreciseEnough = found.IsPreciseAcross(across), Decided = found.DecidedAcross(across) }
        : new Standing
        {
            IsPreciseEnough = Plan.PrecisionShare is { } precision && found.IsPrecise(precision),
            SittingsNeeded = Plan.PrecisionShare is { } asked ? found.SittingsNeeded(asked) : null,
            SittingsWorth = found.SittingsWorth,
            Decided = found.Targets[0].Decided(Plan.PrecisionShare),
        };
}
