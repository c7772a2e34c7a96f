using System.CommandLine;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Cli.Options;
using Tachyscope.Reports.Studies;
using Tachyscope.Reports.Terminal;
using Tachyscope.Runs;

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
        var command = new Command("report", "Show a saved run, as if it had just been measured.") { margin };
        saved.AddTo(command);
        showing.AddTo(command);
        command.SetAction(async (result, _) =>
        {
            var (read, exitCode) = await saved.ReadAsync(around, result);
            if (read is not { } run)
            {
                return exitCode;
            }

            var options = new AnalysisOptions { MarginShare = result.GetValue(margin), Against = showing.Opponent(result) };
            var console = TerminalConsole.For(around.Output, showing.IsPlain(result) ? null : around.Terminal);
            var all = run.Studies.AsParallel()
                .AsOrdered().Select(study => (Study: study, Found: TargetAnalyst.Examine(run, study, options))).ToList();
            foreach (var (study, found) in all)
            {
                foreach (var report in StudyReporter.ReportTargets(run, found, study.Note, showing.Report(result)))
                {
                    StudyView.Write(report, console);
                }
            }

            if (run.Targets.Count < 2)
            {
                FamilyView.Write([.. all.Select(study => study.Found.Targets[0])], console);
            }

            return all.Any(study => study.Study.Failures.Any(failure => failure.Kind != CellFailureKind.Missing) || study.Found.Targets.Any(findings => findings.IsAnyLimitMissed)) ? ExitCode.Failed : ExitCode.Fine;
        });
        return command;
    }
}
