using System.CommandLine;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Cli.Options;
using Tachyscope.Exports;
using Tachyscope.Reports.Studies;
using Tachyscope.Reports.Terminal;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>Shows a run that was measured before, or writes it to files, as options say.</summary>
internal sealed class RunReporting(Surroundings around)
{
    private readonly ShowingOptions _showing = new();
    private readonly WorthOptions _worth = new();
    private readonly OutOption _output = new();

    private readonly Option<double?> _margin = new("--margin")
    {
        Description = "The smallest difference that matters to you; that of the run by default.",
        HelpName = "PERCENT",
        CustomParser = PercentValue.Parse,
    };

    public void AddMarginTo(Command command) => command.Add(_margin);

    public void AddTo(Command command)
    {
        _showing.AddTo(command);
        _worth.AddTo(command);
        command.Add(_output.Option);
    }

    /// <summary>Shows it.</summary>
    /// <returns>The exit code: what the run itself ended with.</returns>
    public async Task<int> ShowAsync(Run run, ParseResult result)
    {
        if (_output.Problem(result) is { } unwritable)
        {
            return await around.ComplainAsync([unwritable], ExitCode.WrongUse);
        }

        if (_worth.Problem(result, run.Studies) is { } problem)
        {
            return await around.ComplainAsync([problem], ExitCode.WrongUse);
        }

        var asked = _showing.Report(result) with { Terms = declared => _worth.Terms(result, declared) };
        var shown = _worth.AreGiven(result) ? asked with { Shown = new HashSet<Block>(asked.Shown) { Block.Payoff } } : asked;
        var options = new AnalysisOptions { MarginShare = result.GetValue(_margin), Against = _showing.Opponent(result) };
        var console = TerminalConsole.For(around.Output, _showing.IsPlain(result) ? null : around.Terminal);
        var all = new (StudyRecord Study, StudyOnTargets Found)[run.Studies.Count];
        // Whoever is done takes the next: studies differ in size.
        Parallel.For(0, all.Length, index => all[index] = (run.Studies[index], TargetAnalyst.Examine(run, run.Studies[index], options)));
        if (_output.Run(result) is { } copy)
        {
            RunFile.Write(run, copy);
        }

        var (written, problems) = await Exporter.WriteAsync(new Export(run, [.. all.Select(study => study.Found)]),
            _output.Shown(result));
        if (written.Count > 0 || problems.Count > 0 || _output.Run(result) is not null)
        {
            // Whoever asks for a file has it to read.
            foreach (var file in _output.Run(result) is { } saved ? [saved, .. written] : written)
            {
                await around.Output.WriteLineAsync($"written to {VisibleText.Of(file)}");
            }

            return await around.ComplainAsync(problems, problems.Count > 0 ? ExitCode.CouldNotRun : ExitCode.Fine);
        }

        foreach (var (study, found) in all)
        {
            foreach (var report in StudyReporter.ReportTargets(run, found, study.Note, shown))
            {
                StudyView.Write(report, console);
            }
        }

        RunView.Write(run, [.. all.Select(study => study.Found)], console, isMoreTold: shown.Shown.Count == 0);
        return all.Any(study => study.Study.Failures.Any(failure => failure.Kind != CellFailureKind.Missing)
            || study.Found.Targets.Any(findings => findings.IsAnyLimitMissed)) ? ExitCode.Failed : ExitCode.Fine;
    }
}
