using System.CommandLine;
using System.Globalization;
using Tachyscope.Analysis.Histories;
using Tachyscope.Cli.Histories;
using Tachyscope.Cli.Options;
using Tachyscope.History;
using Tachyscope.Reports.Histories;
using Tachyscope.Reports.Studies;
using Tachyscope.Reports.Terminal;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>tachyscope history, and what can be done with it.</summary>
internal sealed class HistoryCommand
{
    private const int UsualRuns = 20;
    private const int MostRuns = 100_000;

    private readonly Surroundings _around;
    private readonly HistoryOption _place = new();
    private readonly PlainOption _plain = new();

    private HistoryCommand(Surroundings around) => _around = around;

    public static Command Create(Surroundings around)
    {
        var own = new HistoryCommand(around);
        var runs = new Option<int>("--runs")
        {
            Description = $"List so many of the newest runs; {UsualRuns} by default.", HelpName = "N", DefaultValueFactory = _ => UsualRuns,
            CustomParser = CountValue.UpTo(MostRuns, "write how many of the newest runs to list, such as 50"),
        };
        var command = new Command("history", "List the saved runs; show, label, remove, export and import them.") { runs,
            own._plain.Option };
        own._place.Option.Recursive = true;
        command.Add(own._place.Option);
        command.SetAction((result, _) => own.GuardedAsync(result, history => own.ListAsync(history, result, result.GetValue(runs))));
        command.Add(own.Show());
        command.Add(own.Label());
        command.Add(own.Remove());
        command.Add(own.Export());
        command.Add(own.Import());
        return command;
    }

    private async Task<int> ListAsync(RunHistory history, ParseResult result, int most)
    {
        var runs = history.List(new RunQuery { Most = most });
        if (runs.Count == 0)
        {
            await _around.Output.WriteLineAsync($"{history.Name} holds no run yet.");
            return ExitCode.Fine;
        }

        var machines = runs.Select(run => run.Machine).Distinct().Count() > 1;
        string[] Told(RunSummary run)
            => [run.Label ?? "", RunWords.When(run), RunWords.Code(run), run.Runtime, .. machines ? [run.Machine] : (string[])[]];
        var report = new HistoryReport
        {
            Parts =
            [
                new HistoryPart(history.Name, [], new FigureTable
                {
                    Title = "run", Of = "run",
                        Headings = ["label", "measured, UTC", "code", "runtime", .. machines ? ["machine"] : (string[])[]],
                        AreFiguresWords = true,
                    Rows = [.. runs.Select(run => new FigureRow(run.Id.ToString(CultureInfo.InvariantCulture), Told(run)))],
                }, [.. runs.Select(run => string.Join(" · ",
                    (string[])[RunWords.Name(run), .. Told(run)[1..].Where(part => part.Length > 0)]))]),
            ],
            Notes = runs.Count < most ? [] : [$"the newest {runs.Count}; more with --runs N"],
        };
        HistoryView.Write(report, TerminalConsole.For(_around.Output, _plain.IsPlain(result) ? null : _around.Terminal));
        return ExitCode.Fine;
    }

    private Command Show()
    {
        var asked = Run();
        var command = new Command("show", "Tell all that is kept of a run beside its readings; tachyscope report shows those.") { asked };
        command.SetAction((result, cancellation) => GuardedAsync(result,
            history => WithRunAsync(history, result.GetValue(asked)!, async run =>
        {
            (string Of, string? What)[] lines =
            [
                ("run", RunWords.Name(run)), ("measured", $"{RunWords.When(run)} UTC, {run.State.ToString().ToLowerInvariant()}"),
                ("code", RunWords.Code(run)), ("stamp", run.Code.Stamp), ("machine", run.Machine), ("runtime", run.Runtime),
                    ("tool", run.Tool),
                ("command", run.Command),
                    ("studies",
                    string.Join(", ", run.Cells.GroupBy(cell => cell.Study).Select(study => $"{study.Key} ({study.Count()} cells)"))),
            ];
            foreach (var (of, what) in lines.Where(line => !string.IsNullOrEmpty(line.What)))
            {
                await _around.Output.WriteLineAsync($"{of,-9} {VisibleText.Of(what!)}");
            }
        }, cancellation)));
        return command;
    }

    private Command Label()
    {
        var asked = Run();
        var label = new Argument<string?>("LABEL") { Description = "Its name from now on; none takes the present one away.",
            Arity = ArgumentArity.ZeroOrOne };
        var command = new Command("label", "Give a run a name to find it by, or take it away.") { asked, label };
        command.SetAction((result, cancellation) => GuardedAsync(result,
            history => WithRunAsync(history, result.GetValue(asked)!, async run =>
        {
            var name = result.GetValue(label);
            RunHistory.Open(_place.PlaceToSave(result, ".")).Label(run.Id, name);
            await _around.Output.WriteLineAsync(name is null ? $"run {run.Id} bears no label now"
                : $"run {run.Id} is \"{VisibleText.Of(name)}\" now");
        }, cancellation)));
        return command;
    }

    private Command Remove()
    {
        var asked = new Argument<string[]>("RUN") { Description = $"Runs: {RunFinder.Forms}.", Arity = ArgumentArity.OneOrMore };
        var command = new Command("remove", "Take runs out of the history, for good.") { asked };
        command.SetAction((result, cancellation) => GuardedAsync(result, async history =>
        {
            var (runs, problem) = await FindAsync(history, result.GetValue(asked)!, cancellation);
            if (problem is not null)
            {
                return await _around.ComplainAsync([problem, "nothing was removed."], ExitCode.WrongUse);
            }

            RunHistory.Open(_place.PlaceToSave(result, ".")).Remove([.. runs.Select(run => run.Id)]);
            await _around.Output.WriteLineAsync($"removed {string.Join(", ", runs.Select(RunWords.Name))}");
            return ExitCode.Fine;
        }));
        return command;
    }

    private Command Export()
    {
        var folder = new Argument<string>("FOLDER") { Description = "Where to write the runs, each as a file like those of --out; made "
            + "if need be." };
        var asked = new Argument<string[]>("RUN") { Description = $"Which runs: {RunFinder.Forms}; all by default.",
            Arity = ArgumentArity.ZeroOrMore };
        var command = new Command("export", "Write runs as files; of a damaged history whatever can still be read.") { folder, asked };
        command.SetAction((result, cancellation) => GuardedAsync(result, async history =>
        {
            var (runs, problem) = result.GetValue(asked) is { Length: > 0 } named
                ? await FindAsync(history, named, cancellation)
                : (history.List(new RunQuery()), null);
            if (problem is not null)
            {
                return await _around.ComplainAsync([problem], ExitCode.WrongUse);
            }

            var into = result.GetValue(folder)!;
            Directory.CreateDirectory(into);
            List<string> lost = [];
            foreach (var run in runs)
            {
                try
                {
                    RunFile.Write(history.Read(run.Id)!,
                        Path.Combine(into, string.Create(CultureInfo.InvariantCulture, $"run-{run.Id}.json")));
                }
                catch (HistoryException exception)
                {
                    lost.Add(exception.Message);
                }
            }

            await _around.Output.WriteLineAsync($"written {runs.Count - lost.Count} of {runs.Count} runs to {into}");
            return await _around.ComplainAsync(lost, lost.Count > 0 ? ExitCode.CouldNotRun : ExitCode.Fine);
        }));
        return command;
    }

    private Command Import()
    {
        var files = new Argument<string[]>("FILE")
        {
            Description = "Files that were saved with --out, or folders of them; by default those runs that could not be saved when "
                + "they were measured.",
            Arity = ArgumentArity.ZeroOrMore,
        };
        var command = new Command("import", "Put runs from files into the history.") { files };
        command.SetAction((result, _) => GuardedAsync(async () =>
        {
            var named = result.GetValue(files) ?? [];
            var waiting = new WaitingRuns(_around.Cache);
            string[] all = [.. named.Length == 0 ? waiting.Files : named
                .SelectMany(file => Directory.Exists(file) ? Directory.GetFiles(file, "*.json")
                    .Order(StringComparer.Ordinal) : (IEnumerable<string>)[file])];
            if (all.Length == 0)
            {
                return await _around.ComplainAsync(["there is nothing to import; name files that were saved with --out, or a folder of "
                    + "them."], ExitCode.WrongUse);
            }

            RunHistory? history = null;
            List<string> problems = [];
            foreach (var file in all)
            {
                try
                {
                    var run = RunFile.Read(file);
                    history ??= RunHistory.Open(_place.PlaceToSave(result, "."));
                    history.Save(run, RunSummary.Of(run), WaitingRuns.LabelOf(file));
                    waiting.Done(file);
                }
                catch (Exception exception) when (exception is InvalidDataException or IOException or UnauthorizedAccessException)
                {
                    problems.Add(exception.Message);
                }
            }

            await _around.Output.WriteLineAsync($"imported {all.Length - problems.Count} of {all.Length} runs");
            return await _around.ComplainAsync(problems, problems.Count > 0 ? ExitCode.WrongUse : ExitCode.Fine);
        }));
        return command;
    }

    private static Argument<string> Run() => new("RUN") { Description = $"A run: {RunFinder.Forms}." };

    private static async Task<(IReadOnlyList<RunSummary> Runs, string? Problem)> FindAsync(RunHistory history, string[] asked,
        CancellationToken cancellation)
    {
        List<RunSummary> found = [];
        foreach (var one in asked)
        {
            var (run, problem) = await new RunFinder(history, ".").FindAsync(one, cancellation);
            if (run is not { Summary.Id: > 0 })
            {
                return ([], problem ?? $"{one} is a file, and no run of the history.");
            }

            found.Add(run.Summary);
        }

        return (found, null);
    }

    private async Task<int> WithRunAsync(RunHistory history, string asked, Func<RunSummary, Task> work, CancellationToken cancellation)
    {
        var (runs, problem) = await FindAsync(history, [asked], cancellation);
        if (problem is not null)
        {
            return await _around.ComplainAsync([problem], ExitCode.WrongUse);
        }

        await work(runs[0]);
        return ExitCode.Fine;
    }

    private async Task<int> GuardedAsync(ParseResult result, Func<RunHistory, Task<int>> work)
    {
        var (history, problem) = _place.Open(result, ".");
        return history is null ? await _around.ComplainAsync([problem!], ExitCode.WrongUse) : await GuardedAsync(() => work(history));
    }

    private async Task<int> GuardedAsync(Func<Task<int>> work)
    {
        try
        {
            return await work();
        }
        catch (HistoryException exception)
        {
            return await _around.ComplainAsync([exception.Message], ExitCode.CouldNotRun);
        }
    }
}
