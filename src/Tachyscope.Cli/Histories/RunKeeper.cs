using System.CommandLine;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Histories;
using Tachyscope.Analysis.Targets;
using Tachyscope.History;
using Tachyscope.Reports.Histories;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Histories;

/// <summary>Keeps a run that was just measured in its history, and tells what changed since the one before.</summary>
internal sealed class RunKeeper(Surroundings around, SavingOptions options, ParseResult result, string project)
{
    private const int StudiesTold = 5;

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

    /// <summary>What changed since the last run of each study on this machine, a line each.</summary>
    public IReadOnlyList<string> Since(Run run, IReadOnlyList<StudyOnTargets> found)
    {
        if (options.History.Place(result, project) is not { } place)
        {
            return [];
        }

        try
        {
            var history = RunHistory.OpenToRead(place);
            var now = RunSummary.Of(run, found);
            var repeats = Repeats.Of(history, now);
            var told = new List<(string Line, bool IsMoved)>();
            foreach (var study in now.Cells.Select(cell => cell.Study).Distinct())
            {
                if (history.Series(new RunQuery { Study = study, Machine = now.Machine, Most = 1 }) is [var then]
                    && RunComparison.Of(then, now with { Cells = [.. now.Cells.Where(cell => cell.Study == study)] }, repeats,
                        run.Plan.MarginShare)
                        is var changed && ComparisonReporter.Since(changed, study) is { } line)
                {
                    told.Add(($"{study} {line}", changed.Changes.Any(change =>
                        change.Work is not null || change.IsAllocationChanged || change.Verdict is Verdict.Faster or Verdict.Slower)));
                }
            }

            var moved = told.Where(line => line.IsMoved).ToList();
            var shown = told.Count <= StudiesTold ? told : moved;
            var rest = told.Count - shown.Count;
            return [.. shown.Select(line => line.Line), .. rest > 0
                ? [$"{rest} more studies without a change that shows since their last saved runs"] : (string[])[]];
        }
        catch (HistoryException exception)
        {
            return [$"nothing can be said of earlier runs: {exception.Message}"];
        }
    }

    /// <summary>Keeps it, or says where it is instead.</summary>
    /// <returns>What was done, and whether it went wrong.</returns>
    public (string? Line, bool HasFailed) Keep(Run run, IReadOnlyList<StudyOnTargets> found)
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
            var id = history.Save(run, RunSummary.Of(run, found), label);
            var others = waiting.Files.Length;
            return ($"kept as run {id}{(label is null ? "" : $" \"{label}\"")} in {history.Name}"
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
