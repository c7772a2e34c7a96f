using System.CommandLine;
using Spectre.Console;
using Tachyscope.Analysis.Histories;
using Tachyscope.Cli.Histories;
using Tachyscope.Cli.Options;
using Tachyscope.Exports;
using Tachyscope.History;
using Tachyscope.Reports.Histories;
using Tachyscope.Reports.Terminal;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope trend STUDY.</summary>
internal static class TrendCommand
{
    private const int UsualRuns = 200;
    private const int MostRuns = 100_000;
    private const string ByRun = "run";
    private const string ByCommit = "commit";

    public static Command Create(Surroundings around)
    {
        var study = new Argument<string>("STUDY") { Description = "The study's name; * stands for anything." };
        var by = new Option<string>("--by")
        {
            Description = "What one step is: a run, or all runs of a commit that follow each other, by the middle of their times.",
            HelpName = $"{ByRun}|{ByCommit}", DefaultValueFactory = _ => ByRun,
        };
        var runs = new Option<int>("--runs")
        {
            Description = $"Look at so many of the newest runs; {UsualRuns} by default.", HelpName = "N", DefaultValueFactory = _
                => UsualRuns,
            CustomParser = CountValue.UpTo(MostRuns, "write how many of the newest runs to look at, such as 50"),
        };
        var margin = new Option<double?>("--margin")
        {
            Description = "The smallest change that matters to you; 1% by default.", HelpName = "PERCENT",
                CustomParser = PercentValue.Parse,
        };
        var every = new Option<bool>("--every-machine") { Description = "Take the runs of all machines, not only of the one measured "
            + "on last." };
        var all = new Option<bool>("--every-cell") { Description = "List the cells that did not change, too." };
        var output = new FilesOption("it", TrendFile.Endings, TrendFile.ProblemOf);
        WordValue.Allow(by, [ByRun, ByCommit]);
        var place = new HistoryOption();
        var plain = new PlainOption();
        var command = new Command("trend", "Show how a study went over the runs of the history, and where it changed.")
        {
            study, by, runs, margin, output.Option, all, every, place.Option, plain.Option,
        };
        command.SetAction(async (result, _) =>
        {
            var (history, problem) = place.Open(result, ".");
            if (history is null)
            {
                return await around.ComplainAsync([problem!], ExitCode.WrongUse);
            }

            try
            {
                var names = history.Studies();
                string[] asked = [.. Matching(names, result.GetValue(study)!)];
                if (asked.Length == 0)
                {
                    return await around.ComplainAsync([Unknown(history, names, result.GetValue(study)!)], ExitCode.WrongUse);
                }

                var trends = new List<StudyTrend>();
                var console = TerminalConsole.For(around.Output, plain.IsPlain(result) ? null : around.Terminal);
                foreach (var name in asked)
                {
                    var query = new RunQuery { Study = name, Most = result.GetValue(runs) };
                    var here = query with { Machine = history.List(query with { Most = 1 })[0].Machine };
                    var taken = history.Series(result.GetValue(every) ? query : here);
                    var aside = result.GetValue(every) ? 0 : history.Count(query) - history.Count(here);
                    var trend = StudyTrend.Of(name, [.. taken.Reverse()], result.GetValue(margin) ?? new RunPlan().MarginShare,
                        result.GetValue(by) == ByCommit);
                    if (trends.Count > 0 && !plain.IsPlain(result) && around.Terminal is not null)
                    {
                        console.WriteLine();
                    }

                    trends.Add(trend);
                    HistoryView.Write(TrendReporter.Of(trend, result.GetValue(all), aside), console);
                }

                foreach (var file in output.Of(result))
                {
                    await TrendFile.WriteAsync(trends, file, WholeFile.WriteAsync);
                    await around.Output.WriteLineAsync($"written to {VisibleText.Of(file)}");
                }

                return ExitCode.Fine;
            }
            catch (HistoryException exception)
            {
                return await around.ComplainAsync([exception.Message], ExitCode.CouldNotRun);
            }
        });
        return command;
    }

    private static IEnumerable<string> Matching(IReadOnlyList<string> names, string pattern)
        => names.Where(name => System.IO.Enumeration.FileSystemName.MatchesSimpleExpression(pattern, name));

    private static string Unknown(RunHistory history, IReadOnlyList<string> names, string asked)
    {
        var near = Nearest.To(asked, names) is { } name ? $" \"{name}\" is the nearest;" : "";
        return $"{history.Name} holds no study \"{asked}\";{near} there "
            + $"{(names.Count == 0 ? "is none" : $"are {string.Join(", ", names.Select(known => $"\"{known}\""))}")}.";
    }
}
