using System.CommandLine;
using Tachyscope.Analysis.Findings;
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
            var (found, exitCode) = await saved.ReadAsync(around, result);
            if (found is not { } run)
            {
                return exitCode;
            }

            var options = new AnalysisOptions { MarginShare = result.GetValue(margin), Against = showing.Opponent(result) };
            var console = TerminalConsole.For(around.Output, around.IsTerminal && !showing.IsPlain(result));
            var all = run.Studies.Select(study => (Study: study, Findings: Analyst.Examine(run, study, options))).ToList();
            foreach (var (study, findings) in all)
            {
                StudyView.Write(StudyReporter.Report(run, findings, study.Note, showing.Report(result)), console);
            }

            FamilyView.Write([.. all.Select(study => study.Findings)], console);
            return Verdict(all);
        });
        return command;
    }

    private static int Verdict(IEnumerable<(StudyRecord Study, StudyFindings Findings)> all)
        => all.Any(study => study.Study.Failures.Count > 0 || study.Findings.IsAnyLimitMissed) ? ExitCode.Failed : ExitCode.Fine;
}
