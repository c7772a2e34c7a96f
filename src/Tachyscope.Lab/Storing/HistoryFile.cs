namespace Tachyscope.Lab.Storing;

/// <summary>Where a project's history of runs lies.</summary>
public static class HistoryFile
{
    /// <summary>What it is called.</summary>
    public const string Name = "tachyscope.history";

    /// <summary>The nearest from a project's folder upwards.</summary>
    /// <param name="project">Path of the project or its folder, there or not.</param>
    /// <returns>Null when there is none.</returns>
    public static string? Nearest(string project)
        => Upwards(project).Select(folder => Path.Combine(folder, Name)).FirstOrDefault(File.Exists);

    /// <summary>Where a project's history is begun: at the root of its repository, or in its own folder outside of one.</summary>
    /// <param name="project">Path of the project or its folder.</param>
    public static string New(string project)
        => Path.Combine(Repository(project) ?? Upwards(project).First(), Name);

    /// <summary>Whether it is begun in a repository, which lists it from then on.</summary>
    /// <param name="project">Path of the project or its folder.</param>
    public static bool IsInRepository(string project) => Repository(project) is not null;

    private static string? Repository(string project)
        => Upwards(project).FirstOrDefault(folder => Path.Exists(Path.Combine(folder, ".git")));

    private static IEnumerable<string> Upwards(string project)
    {
        var full = Path.GetFullPath(project);
        var first = File.Exists(full) ? Path.GetDirectoryName(full) : full;
        for (var folder = first; folder is not null; folder = Path.GetDirectoryName(folder))
        {
            yield return folder;
        }
    }
}
