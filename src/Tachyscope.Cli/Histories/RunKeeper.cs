using System.CommandLine;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Histories;
using Tachyscope.History;
using Tachyscope.Lab.Storing;
using Tachyscope.Reports.Histories;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Histories;

/// <summary>Keeps a run that was just measured in its history, and tells what changed since the one before.</summary>
internal sealed class RunKeeper(Surroundings around, SavingOptions options, ParseResult result, string project)
{
    private const int StudiesTold = 5;

    private readonly bool _isBegunInRepository = options.IsAsked(result) && options.History.Place(result, project) is null
        && HistoryFile.IsInRepository(project);

    /// <summary>Looks whether the history can be used, before anything is measured.</summary>
    /// <returns>What is wrong with it; null when nothing is, or when it can be told only later.</returns>
    public string? Problem()
    {
        if (!options.IsAsked(result))
        {
            return null;
        }

        try
        {
            RunHistory.Open(options.History.PlaceToSave(result, project));
            return null;
        }
        catch (HistoryException exception)
        {
            // It may be there again when the run is over; until then nothing is lost.
            return exception.IsPassing ? null : exception.Message;
        }
    }

    /// <summary>What changed since the last run of each study on this machine that was saved, a line each, and since the last one of a
    /// watch.</summary>
    /// <param name="now">What was found.</param>
    /// <param name="last">What the watch found the last time; null where there was none.</param>
    /// <param name="marginShare">The smallest difference that matters, as a share.</param>
    public IReadOnlyList<string> Since(RunSummary now, RunSummary? last, double marginShare)
    {
        var place = options.History.Place(result, project);
        if (place is null)
        {
            return SinceLast([]);
        }

        try
        {
            var history = RunHistory.OpenToRead(place);
            var repeats = Repeats.Of(history, now);
            return [.. Since(now, study => history.Series(new RunQuery { Study = study, Machine = now.Machine, Most = 1 }) is [var then]
                ? then : null, repeats, marginShare, "their last saved runs"), .. SinceLast(repeats)];
        }
        catch (HistoryException exception)
        {
            return [$"nothing can be said of earlier runs: {exception.Message}", .. SinceLast([])];
        }

        IReadOnlyList<string> SinceLast(IReadOnlyList<(RunSummary One, RunSummary Other)> repeats)
            => Since(now, _ => last, repeats, marginShare, "the last time");
    }

    private static IReadOnlyList<string> Since(
        RunSummary now, Func<string, RunSummary?> then, IReadOnlyList<(RunSummary One, RunSummary Other)> repeats, double marginShare,
            string since)
    {
        var told = new List<(string Line, bool IsMoved)>();
        foreach (var study in now.Cells.Select(cell => cell.Study).Distinct())
        {
            if (then(study) is { } before
                && RunComparison.Of(before, now with { Cells = [.. now.Cells.Where(cell => cell.Study == study)] }, repeats, marginShare)
                    is var changed && ComparisonReporter.Since(changed, study) is { } line)
            {
                told.Add(($"{study} {line}", changed.Changes.Any(change =>
                    change.Work is not null || change.IsAllocationChanged || change.Verdict is Verdict.Faster or Verdict.Slower)));
            }
        }

        var shown = told.Count <= StudiesTold ? told : told.FindAll(line => line.IsMoved);
        var rest = told.Count - shown.Count;
        return [.. shown.Select(line => line.Line), .. rest > 0
            ? [$"{rest} more studies without a change that shows since {since}"] : (string[])[]];
    }

    /// <summary>Keeps it, or says where it is instead.</summary>
    /// <returns>What was done, and whether it went wrong.</returns>
    public (string? Line, bool HasFailed) Keep(Run run, RunSummary found)
    {
        if (!options.IsAsked(result))
        {
            return (null, false);
        }

        var waiting = new WaitingRuns(around.Cache);
        var label = options.Label(result);
        try
        {
            var history = RunHistory.Open(options.History.PlaceToSave(result, project));
            var id = history.Save(run, found, label);
            var others = waiting.Files.Length;
            return ($"kept as run {id}{(label is null ? "" : $" \"{label}\"")} in {history.Name}"
                + (_isBegunInRepository ? ", begun at the root of the repository: commit it for others, or have git ignore it" : "")
                + (others == 0 ? "" : $"; {others} that could not be kept before wait for tachyscope history import"), false);
        }
        catch (HistoryException exception)
        {
            try
            {
                return ($"the run could not be kept in its history: {exception.Message} It is in {waiting.Keep(run, label)} instead, and "
                    + "tachyscope history import puts it where it belongs.", true);
            }
            catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
            {
                return ($"the run could not be kept in its history: {exception.Message} Nor could it be kept as a file: {failure.Message}",
                    true);
            }
        }
    }
}
