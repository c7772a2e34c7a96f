using System.CommandLine;
using Tachyscope.History;
using Tachyscope.Lab.Storing;

namespace Tachyscope.Cli.Histories;

/// <summary>The option that names a history, and where it is without it.</summary>
internal sealed class HistoryOption
{
    /// <summary>What names it for all commands of a shell.</summary>
    public const string Variable = "TACHYSCOPE_HISTORY";

    public Option<string?> Option { get; } = new("--history")
    {
        Description = $"Where runs are kept: a file, or postgresql://USER@HOST/DATABASE; by default what {Variable} names, or the nearest "
            + $"{HistoryFile.Name} from the project upwards.",
        HelpName = "PLACE",
    };

    /// <summary>Where runs are kept; null when there is no such place yet.</summary>
    public string? Place(ParseResult result, string project) => Named(result) ?? HistoryFile.Nearest(project);

    /// <summary>Where runs are to be kept.</summary>
    public string PlaceToSave(ParseResult result, string project) => Place(result, project) ?? HistoryFile.New(project);

    /// <summary>The history, to be read; null with a complaint when there is none or it cannot be.</summary>
    public (RunHistory? History, string? Problem) Open(ParseResult result, string project)
    {
        if (Place(result, project) is not { } place)
        {
            return (null,
                $"there is no history from {Path.GetFullPath(project)} upwards; save a run first with --save, or name one with --history.");
        }

        try
        {
            return (RunHistory.OpenToRead(place), null);
        }
        catch (HistoryException exception)
        {
            return (null, exception.Message);
        }
    }

    private string? Named(ParseResult result)
        => result.GetValue(Option) ?? (Environment.GetEnvironmentVariable(Variable) is { Length: > 0 } named ? named : null);
}
