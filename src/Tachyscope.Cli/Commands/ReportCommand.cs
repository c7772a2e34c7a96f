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

/// <summary>tachyscope report RUN.</summary>
internal static class ReportCommand
{
    public static Command Create(Surroundings around)
    {
        var saved = new SavedRun();
        var margin = new Option<double?>("--margin")
        {
            Description = "The smallest difference that matters to you; that of the run by default.",
            HelpName = "PERCENT",
            CustomParser = PercentValue.Parse,
        };
        var showing = new ShowingOptions();
        var worth = new WorthOptions();
        var output = new OutOption();
        var command = new Command("report",
            "Show a saved run, or the last, as if it had just been measured; with other blocks, and other questions to the same readings.") { margin };
        saved.AddTo(command);
        showing.AddTo(command);
        worth.AddTo(command);
        command.Add(output.Option);
        command.SetAction(async (result, cancellation) =>
        {
            var (read, exitCode) = await saved.ReadAsync(around, result, cancellation);
            if (read is not { } run)
            {
                return exitCode;
            }

            if (output.Problem(result) is { } unwritable)
            {
                return await around.ComplainAsync([unwritable], ExitCode.WrongUse);
            }

            if (worth.Problem(result, run.Studies) is { } problem)
            {
                return await around.ComplainAsync([problem], ExitCode.WrongUse);
            }

            var asked = showing.Report(result) with { Terms = declared => worth.Terms(result, declared) };
            var shown = worth.AreGiven(result) ? asked with { Shown = new HashSet<Block>(asked.Shown) { Block.Payoff } } : asked;
            var options = new AnalysisOptions { MarginShare = result.GetValue(margin), Against = showing.Opponent(result) };
            var console = TerminalConsole.For(around.Output, showing.IsPlain(result) ? null : around.Terminal);
            var all = run.Studies.AsParallel()
                .AsOrdered().Select(study => (Study: study, Found: TargetAnalyst.Examine(run, study, options))).ToList();
            if (output.Run(result) is { } copy)
            {
                RunFile.Write(run, copy);
            }

            var (written, problems) = await Exporter.WriteAsync(new Export(run, all.ConvertAll(study => study.Found)),
                output.Shown(result));
            if (written.Count > 0 || problems.Count > 0 || output.Run(result) is not null)
            {
                // Whoever asks for a file has it to read.
                foreach (var file in output.Run(result) is { } saved ? [saved, .. written] : written)
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

            return all.Any(study => study.Study.Failures.Any(failure => failure.Kind != CellFailureKind.Missing) || study.Found.Targets.Any(findings => findings.IsAnyLimitMissed)) ? ExitCode.Failed : ExitCode.Fine;
        });
        return command;
    }
}
