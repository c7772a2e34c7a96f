using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Commands;

/// <summary>Saves a run while it grows and when it is over. A full disk costs no reading: what went wrong is told at the end.</summary>
/// <param name="around">Where the tool runs.</param>
/// <param name="path">The file; null where none is asked for.</param>
internal sealed class RunSaver(Surroundings around, string? path)
{
    // A large run takes a while to write; it is not written again and again while it grows.
    private const double MostShareOfSaving = 0.2;

    private string? _failure;
    private TimeSpan _lastSave;
    private TimeSpan _saving;

    /// <summary>Whether it was saved, as it is or as it was before.</summary>
    public bool IsSaved { get; private set; }

    /// <summary>Where it was saved.</summary>
    public string Said => $"saved to {path}";

    /// <summary>What is left of a run that was interrupted.</summary>
    public string Left => IsSaved ? $"what was measured until then is shown above and saved in {path}."
        : "what was measured until then is shown above.";

    /// <summary>Saves a run as it is now.</summary>
    public void Save(Run run)
    {
        if (path is null)
        {
            return;
        }

        var begin = around.Spent;
        if (run.State == RunState.Running && _saving > MostShareOfSaving * (begin - _lastSave))
        {
            return;
        }

        try
        {
            RunFile.Write(run, path);
            (_lastSave, _saving) = (around.Spent, around.Spent - begin);
            (IsSaved, _failure) = (true, null);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            _failure = exception.Message;
        }
    }

    /// <summary>What went wrong the last time, and where the run is instead: what was measured took time that nobody gives back.</summary>
    /// <returns>Null where it was saved.</returns>
    public string? Problem(Run run)
    {
        if (_failure is null)
        {
            return null;
        }

        var other = Path.Combine(Path.GetTempPath(), $"{Path.GetFileNameWithoutExtension(path)}-{Environment.ProcessId}.json");
        var elsewhere = $"it is in {other} instead.";
        try
        {
            RunFile.Write(run, other);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            elsewhere = $"nor could it be put into {other} instead: {exception.Message}";
        }

        return $"the run could not be saved to {path}: {_failure}; {elsewhere}";
    }
}
