using Tachyscope.Lab.Building;

namespace Tachyscope.Cli.Tries;

/// <summary>What snippets are to be measured with beside what they are tried with now: projects as they were, or other versions of
/// packages.</summary>
/// <param name="Projects">The projects.</param>
/// <param name="Packages">The packages, each NAME or NAME=VERSION.</param>
/// <param name="Problem">Why there is no such thing, in a sentence with the way out; null when there is.</param>
internal sealed record OldSide(IReadOnlyList<string> Projects, IReadOnlyList<string> Packages, string? Problem)
{
    /// <summary>Finds it.</summary>
    /// <param name="old">A folder, NAME=VERSION of a package, or a revision.</param>
    /// <param name="projects">The projects now.</param>
    /// <param name="packages">The packages now.</param>
    /// <param name="cache">Where revisions are kept.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<OldSide> FindAsync(
        string old, IReadOnlyList<string> projects, IReadOnlyList<string> packages, string cache, CancellationToken cancellation)
    {
        if (old.Split('=', 2) is [var name, { Length: > 0 }])
        {
            string[] others = [.. packages.Where(package => !string.Equals(package.Split('=')[0], name,
                StringComparison.OrdinalIgnoreCase))];
            return others.Length < packages.Count ? new OldSide(projects, [.. others, old], null)
                : Failed($"--old {old}: {name} is none of the packages here; name the newer one with --package {name}.");
        }

        if (projects is not [var project])
        {
            return Failed($"--old {old}: a revision or folder is that of one project; name it with --project, or write NAME=VERSION of a "
                + "package.");
        }

        if (Path.Exists(old))
        {
            return new OldSide([old], packages, null);
        }

        var taken = await new Revisions(cache).TakeAsync(project, old, null, cancellation);
        return taken.Path is { } path ? new OldSide([path], packages, null) : Failed($"--old {old}: {taken.Problem}");
    }

    private static OldSide Failed(string problem) => new([], [], problem);
}
