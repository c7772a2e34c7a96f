using System.CommandLine;
using Spectre.Console;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Cli.Options;
using Tachyscope.Reports.Overviews;
using Tachyscope.Reports.Terminal;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope caveat NAME.</summary>
internal static class CaveatCommand
{
    public static Command Create(Surroundings around)
    {
        var name = new Argument<string>("NAME") { Description = "A caveat's name, as it stands under a study." };
        name.CompletionSources.Add([.. CaveatPages.All.Select(page => page.Name)]);
        var saved = new SavedRun();
        var plain = new PlainOption();
        var command = new Command("caveat", "Say what a caveat means, what to do about it, and on what evidence it was raised.") { name,
            plain.Option };
        saved.AddTo(command);
        command.SetAction(async (result, cancellation) =>
        {
            var asked = result.GetValue(name)!;
            if (CaveatPages.All.FirstOrDefault(page => page.Name == asked) is not { } page)
            {
                var near = Nearest.To(asked, CaveatPages.All.Select(known => known.Name));
                var names = string.Join(", ", CaveatPages.All.Select(known => known.Name));
                return await around.ComplainAsync(
                    [$"\"{asked}\" is no caveat;{(near is null ? "" : $" {near} is the nearest;")} there are {names}."], ExitCode.WrongUse);
            }

            // Nobody has to have measured anything to read what one means.
            var isRunThere = saved.IsNamed(result) || File.Exists(LastRun.Path(around.Cache));
            var (read, exitCode) = isRunThere ? await saved.ReadAsync(around, result, cancellation) : (null, ExitCode.Fine);
            if (isRunThere && read is null)
            {
                return exitCode;
            }

            var console = TerminalConsole.For(around.Output, plain.IsPlain(result) ? null : around.Terminal);
            CaveatView.Write(page, console);
            if (read is { } run)
            {
                var found = run.Studies.Select(study => TargetAnalyst.Examine(run, study, AnalysisOptions.Default));
                CaveatView.WriteEvidence([.. found.SelectMany(study => study.Targets)], asked, console);
            }

            return ExitCode.Fine;
        });
        return command;
    }
}
