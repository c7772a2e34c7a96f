using System.CommandLine;
using Tachyscope.Cli.Histories;
using Tachyscope.History;
using Tachyscope.Lab.Planning;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>A saved run that a command works from, and the studies of it that are asked for.</summary>
internal sealed class SavedRun
{
    private readonly Argument<string?> _path = new("RUN")
    {
        Description = $"A run: {RunFinder.Forms}; the one measured last by default.",
        Arity = ArgumentArity.ZeroOrOne,
    };

    private readonly Option<string[]> _only = new("--only")
    {
        Description = "The studies whose names match; * stands for anything. May be repeated.",
        HelpName = "PATTERN",
    };

    private readonly HistoryOption _history = new();

    public void AddTo(Command command)
    {
        command.Add(_path);
        command.Add(_only);
        command.Add(_history.Option);
    }

    /// <summary>Whether a file is named, and not the last run meant.</summary>
    public bool IsNamed(ParseResult result) => result.GetValue(_path) is not null;

    /// <summary>Reads it; complains and answers null when that cannot be done.</summary>
    public async Task<(Run? Run, int ExitCode)> ReadAsync(Surroundings around, ParseResult result, CancellationToken cancellation)
    {
        var path = result.GetValue(_path) ?? LastRun.Path(around.Cache);
        if (!IsNamed(result) && !File.Exists(path))
        {
            return await ComplainAsync(around,
                "nothing was measured here yet; measure something, or name a file that was saved with --out.", ExitCode.WrongUse);
        }

        try
        {
            var (run, problem) = File.Exists(path)
                || Directory.Exists(path) ? (RunFile.Read(path), null) : await FindAsync(result, path, cancellation);
            if (run is null)
            {
                return await ComplainAsync(around, problem!, ExitCode.WrongUse);
            }

            if (run.Studies.Count == 0)
            {
                return await ComplainAsync(around, $"{path} holds no study: its run ended before one was measured.", ExitCode.CouldNotRun);
            }

            var only = result.GetValue(_only) ?? [];
            StudyDescription[] all = [.. run.Studies.Select(study => study.Study)];
            if (StudyFilter.Idle(all, only) is { Count: > 0 } idle)
            {
                return await ComplainAsync(around,
                    $"--only {idle[0]}: no study matches; there are {string.Join(", ", all.Select(study => study.Name))}.",
                    ExitCode.WrongUse);
            }

            var chosen = StudyFilter.Choose(all, only);
            return (run with { Studies = [.. run.Studies.Where(study => chosen.Contains(study.Study))] }, ExitCode.Fine);
        }
        catch (InvalidDataException exception)
        {
            return await ComplainAsync(around, exception.Message, ExitCode.CouldNotRun);
        }
        catch (HistoryException exception)
        {
            return await ComplainAsync(around, exception.Message, ExitCode.CouldNotRun);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            var reason = Directory.Exists(path) ? "it is a folder; name a file that was saved with --out." : exception.Message;
            return await ComplainAsync(around, $"{path} cannot be read: {reason}", ExitCode.WrongUse);
        }
    }

    private async Task<(Run? Run, string? Problem)> FindAsync(ParseResult result, string asked, CancellationToken cancellation)
    {
        // Without any history the finder says so.
        var (history, unusable) = _history.Place(result, ".") is null ? (null, null) : _history.Open(result, ".");
        if (unusable is not null)
        {
            return (null, unusable);
        }

        var (found, problem) = await new RunFinder(history, ".").FindAsync(asked, cancellation);
        return (found?.Read(), problem);
    }

    private static async Task<(Run? Run, int ExitCode)> ComplainAsync(Surroundings around, string complaint, int exitCode)
        => (null, await around.ComplainAsync([complaint], exitCode));
}
