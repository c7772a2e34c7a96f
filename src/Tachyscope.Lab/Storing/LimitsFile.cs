using System.Text.Json;
using Tachyscope.Runs;
using Tachyscope.Storing;

namespace Tachyscope.Lab.Storing;

/// <summary>Keeps the limits of machines, one entry for each machine that uses the folder.</summary>
public static class LimitsFile
{
    private const string Name = "limits.json";

    /// <summary>The limits of a machine; null when they were never measured, or cannot be read any more.</summary>
    /// <param name="folder">Folder they are kept in.</param>
    /// <param name="machine">The machine.</param>
    public static MachineLimits? Find(string folder, MachineDescription machine)
        => All(folder).FirstOrDefault(limits => limits.Machine == machine);

    /// <summary>Keeps the limits of a machine in place of those it had.</summary>
    /// <param name="folder">Folder they are kept in; made when it is not there.</param>
    /// <param name="limits">The limits.</param>
    /// <exception cref="IOException">The file could not be written.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be written.</exception>
    public static void Keep(string folder, MachineLimits limits)
    {
        Directory.CreateDirectory(folder);
        List<MachineLimits> all = [.. All(folder).Where(other => other.Machine != limits.Machine), limits];
        WholeFile.Write(Path.Combine(folder, Name), stream => JsonSerializer.Serialize(stream, all, RunJson.Options));
    }

    // A cache: what cannot be read is measured again.
    private static List<MachineLimits> All(string folder)
    {
        try
        {
            using var stream = File.OpenRead(Path.Combine(folder, Name));
            return JsonSerializer.Deserialize<List<MachineLimits>>(stream, RunJson.Options) ?? [];
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException or JsonException)
        {
            return [];
        }
    }
}
