using System.Globalization;
using System.Text.RegularExpressions;
using Tachyscope.Analysis.Histories;
using Tachyscope.History;
using Tachyscope.Lab.Building;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Histories;

/// <summary>Finds the run that somebody means: a file, a number or label of a history, its last ones, or the newest of a
/// revision.</summary>
/// <param name="history">The history; null for none.</param>
/// <param name="folder">Where revisions are looked up.</param>
internal sealed partial class RunFinder(RunHistory? history, string folder)
{
    private const int LabelsLooked = 1_000;
    private const int LeastCommit = 4;

    /// <summary>What a run may be called, for help.</summary>
    public const string Forms = "a file, a number or label of the history, last, last~1, or a revision or branch, of which the newest "
        + "is taken";

    /// <summary>Finds a run.</summary>
    /// <exception cref="HistoryException">The history cannot be read.</exception>
    public async Task<(FoundRun? Run, string? Problem)> FindAsync(string asked, CancellationToken cancellation)
    {
        if (File.Exists(asked))
        {
            try
            {
                var run = RunFile.Read(asked);
                return (new FoundRun(RunSummary.Of(run) with { Label = asked }, () => run), null);
            }
            catch (Exception exception) when (exception is InvalidDataException or IOException or UnauthorizedAccessException)
            {
                return (null, exception.Message);
            }
        }

        if (history is null)
        {
            return (null,
                $"there is no file {asked}, and no history to look it up in; name a file that was saved with --out, or save runs with "
                    + "--save.");
        }

        return await InHistoryAsync(history, asked, cancellation) is { } found
            ? (new FoundRun(history.Find(found.Id)!, () => history.Read(found.Id)!), null)
            : (null, Unknown(history, asked));
    }

    private async Task<RunSummary?> InHistoryAsync(RunHistory history, string asked, CancellationToken cancellation)
    {
        if (Last().Match(asked) is { Success: true } last)
        {
            var back = last.Groups[1].Success ? int.Parse(last.Groups[1].Value, CultureInfo.InvariantCulture) : 0;
            return history.List(new RunQuery { Most = back + 1 }).ElementAtOrDefault(back);
        }

        if (long.TryParse(asked, NumberStyles.None, CultureInfo.InvariantCulture, out var id) && history.Find(id) is { } numbered)
        {
            return numbered;
        }

        return Newest(new RunQuery { Label = asked }) ?? Newest(new RunQuery { Branch = asked })
            ?? (await Revisions.CommitAsync(folder, asked, cancellation) is { } commit ? Newest(new RunQuery { Commit = commit }) : null)
            ?? (asked.Length >= LeastCommit && asked.All(char.IsAsciiHexDigitLower) ? Newest(new RunQuery { Commit = asked }) : null);

        RunSummary? Newest(RunQuery query) => history.List(query with { Most = 1 }) is [var newest] ? newest : null;
    }

    private static string Unknown(RunHistory history, string asked)
    {
        if (Last().IsMatch(asked))
        {
            var count = history.Count(new RunQuery());
            return string.Create(CultureInfo.InvariantCulture,
                $"{history.Name} holds {count} run{(count == 1 ? "" : "s")}, so that there is no {asked}; save more with --save.");
        }

        string[] labels = [.. history.List(new RunQuery { Most = LabelsLooked }).Select(run => run.Label).OfType<string>().Distinct()];
        var near = Nearest.To(asked, labels) is { } label ? $" the label \"{label}\" is near;" : "";
        return $"\"{asked}\" is no file and no run of {history.Name};{near} name {Forms}; tachyscope history lists them.";
    }

    [GeneratedRegex(@"^last(?:~(\d{1,6}))?$")]
    private static partial Regex Last();
}
