using System.Globalization;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Cli.Histories;

/// <summary>Runs that could not be put into their history when they were measured: kept as files until they can be.</summary>
internal sealed class WaitingRuns(string cache)
{
    private const char BeforeLabel = '~';

    private readonly string _folder = Path.Combine(cache, "waiting-runs");

    /// <summary>Their files, the oldest first.</summary>
    public string[] Files => Directory.Exists(_folder) ? [.. Directory.GetFiles(_folder, "*.json").Order(StringComparer.Ordinal)] : [];

    /// <summary>Keeps one.</summary>
    /// <returns>Its file.</returns>
    /// <exception cref="IOException">It cannot be kept here either.</exception>
    public string Keep(Run run, string? label)
    {
        Directory.CreateDirectory(_folder);
        var name = run.Started.UtcDateTime.ToString("yyyyMMdd-HHmmss-fff", CultureInfo.InvariantCulture);
        var path = Path.Combine(_folder, $"{name}{(label is null ? "" : BeforeLabel + Uri.EscapeDataString(label))}.json");
        RunFile.Write(run, path);
        return path;
    }

    /// <summary>The label that a kept run was to bear; null for none, and for other files.</summary>
    public static string? LabelOf(string file)
        => Path.GetFileName(Path.GetDirectoryName(Path.GetFullPath(file))) == "waiting-runs"
            && Path.GetFileNameWithoutExtension(file).Split(BeforeLabel) is [_, var label] ? Uri.UnescapeDataString(label) : null;

    /// <summary>Lets go of one that is in its history now; other files stay.</summary>
    public void Done(string file)
    {
        if (Path.GetDirectoryName(Path.GetFullPath(file)) == Path.GetFullPath(_folder))
        {
            File.Delete(file);
        }
    }
}
