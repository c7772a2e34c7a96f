using System.Text.Json;
using Tachyscope.Lab.Building;

namespace Tachyscope.Cli.Options;

/// <summary>Names of a project's studies as they were when it was last measured, for a shell to complete.</summary>
internal static class KnownStudies
{
    private const string Folder = "studies";

    /// <summary>The names; none where the project was never measured.</summary>
    public static IReadOnlyList<string> Of(string cache, string project)
    {
        try
        {
            return JsonSerializer.Deserialize(File.ReadAllText(Place(cache, project)), CachedJson.Default.StringArray) ?? [];
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException or JsonException)
        {
            return [];
        }
    }

    /// <summary>Keeps them; a convenience, so that what cannot be written is not.</summary>
    /// <param name="cache">Where builds are kept.</param>
    /// <param name="project">The project, its folder or its assembly.</param>
    /// <param name="names">The names.</param>
    /// <param name="areAll">Whether these are all; else others that are known stay.</param>
    public static void Keep(string cache, string project, IEnumerable<string> names, bool areAll)
    {
        try
        {
            Directory.CreateDirectory(Path.Combine(cache, Folder));
            string[] all = [.. areAll ? names : Of(cache, project).Union(names)];
            File.WriteAllText(Place(cache, project), JsonSerializer.Serialize(all, CachedJson.Default.StringArray));
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
        }
    }

    private static string Place(string cache, string project)
        => Path.Combine(cache, Folder, BuildCache.NameOf(Path.GetFullPath(project)));
}
