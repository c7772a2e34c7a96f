using System.CommandLine;
using Tachyscope.Analysis.Histories;
using Tachyscope.Cli.Histories;
using Tachyscope.Cli.Options;
using Tachyscope.History;
using Tachyscope.Reports.Histories;
using Tachyscope.Reports.Terminal;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope compare OLD [NEW].</summary>
internal static class CompareCommand
{
    public static Command Create(Surroundings around)
    {
        var old = new Argument<string>("OLD") { Description = $"The earlier run: {RunFinder.Forms}." };
        var @new = new Argument<string>("NEW")
        {
            Description = "The later one, said in the same ways; the last of the history by default.", DefaultValueFactory = _ => "last",
        };
        var margin = new Option<double?>("--margin")
        {
            Description = "The smallest difference that matters to you; 1% by default.", HelpName = "PERCENT",
                CustomParser = PercentValue.Parse,
        };
        var all = new Option<bool>("--every-cell") { Description = "List the cells that stayed the same or cannot be told, too." };
        var insist = new Option<bool>("--insist")
        {
            Description = "Compare although the runs were measured on machines that are not alike.",
        };
        var place = new HistoryOption();
        var plain = new PlainOption();
        var command = new Command("compare", "Say what became of each cell from one saved run to another.")
        {
            old, @new, margin, all, place.Option, plain.Option, insist,
        };
        command.SetAction(async (result, cancellation) =>
        {
            try
            {
                var (history, problem) = place.Open(result, ".");
                if (history is null && place.Place(result, ".") is not null)
                {
                    return await around.ComplainAsync([problem!], ExitCode.CouldNotRun);
                }

                var finder = new RunFinder(history, ".");
                var (earlier, noEarlier) = await finder.FindAsync(result.GetValue(old)!, cancellation);
                var (later, noLater) = await finder.FindAsync(result.GetValue(@new)!, cancellation);
                if (earlier is null || later is null)
                {
                    return await around.ComplainAsync(((string?[])[noEarlier, noLater]).OfType<string>().Distinct(), ExitCode.WrongUse);
                }

                var found = RunComparison.Of(earlier.Summary, later.Summary, Repeats.Of(history, later.Summary),
                    result.GetValue(margin) ?? new RunPlan().MarginShare);
                if (found.Changes.Count == 0)
                {
                    return await around.ComplainAsync(
                        [ComparisonReporter.NothingShared(found, RunWords.Name(found.Later))], ExitCode.WrongUse);
                }

                if (!found.AreMachinesAlike && !result.GetValue(insist))
                {
                    return await around.ComplainAsync(
                        [$"{RunWords.Name(found.Earlier)} was measured on {found.Earlier.Machine}, {RunWords.Name(found.Later)} on "
                            + $"{found.Later.Machine}; what differs may be the machine, so compare them only with --insist."],
                        ExitCode.WrongUse);
                }

                HistoryView.Write(ComparisonReporter.Of(found, result.GetValue(all)),
                    TerminalConsole.For(around.Output, plain.IsPlain(result) ? null : around.Terminal));
                return ExitCode.Fine;
            }
            catch (HistoryException exception)
            {
                return await around.ComplainAsync([exception.Message], ExitCode.CouldNotRun);
            }
        });
        return command;
    }
}
