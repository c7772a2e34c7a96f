using System.ComponentModel;

namespace Tachyscope.Lab.Building;

/// <summary>A commit, as its repository tells of it.</summary>
/// <param name="Name">Its full name.</param>
/// <param name="Date">The day it was made, as year, month and day.</param>
/// <param name="Subject">First line of its message.</param>
/// <param name="IsMerge">Whether it joins branches.</param>
public sealed record Commit(string Name, string Date, string Subject, bool IsMerge);

/// <summary>The commits from one revision to a later one, along first parents: those of a branch, where what was merged counts as
/// one.</summary>
/// <param name="Commits">The earlier revision first, then each up to the later; empty when there is a problem.</param>
/// <param name="Problem">Why there are none, in a sentence with the way out; null when there are.</param>
public sealed record CommitChain(IReadOnlyList<Commit> Commits, string? Problem)
{
    // A subject may hold anything but this.
    private const char Between = '\x1f';

    /// <summary>Reads it.</summary>
    /// <param name="project">Path of a project in the repository, or its folder.</param>
    /// <param name="earlier">The earlier revision.</param>
    /// <param name="later">The later one.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<CommitChain> ReadAsync(string project, string earlier, string later, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(project);
        ArgumentNullException.ThrowIfNull(earlier);
        ArgumentNullException.ThrowIfNull(later);
        var folder = Revisions.FolderOf(Path.GetFullPath(project));
        if (!Directory.Exists(folder))
        {
            return Failed($"there is no {project}; name a study project in a git repository.");
        }

        try
        {
            foreach (var revision in (string[])[earlier, later])
            {
                if (await Revisions.CommitAsync(folder, revision, cancellation) is null)
                {
                    return Failed(await Revisions.MissingAsync(project, revision, cancellation));
                }
            }

            if (await Revisions.GitAsync(folder, ["merge-base", "--is-ancestor", earlier, later], cancellation) is { ExitCode: not 0 })
            {
                return Failed(await Revisions.GitAsync(folder, ["merge-base", "--is-ancestor", later, earlier],
                    cancellation) is { ExitCode: 0 }
                    ? $"{earlier} comes after {later}; write the earlier revision first."
                    : $"{earlier} is no ancestor of {later}, so that no row of commits leads from one to the other; name one that is, such "
                        + $"as $(git merge-base {earlier} {later}).");
            }

            var format = $"--format=%H{Between}%cs{Between}%P{Between}%s";
            var listed = await Revisions.GitAsync(folder,
                ["log", "--first-parent", "--reverse", format, $"{earlier}..{later}"], cancellation);
            var first = await Revisions.GitAsync(folder, ["log", "-1", format, earlier], cancellation);
            Commit[] commits = [.. (first.Output + listed.Output).Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(Read)];
            return commits.Length > 1 ? new CommitChain(commits, null)
                : Failed($"{earlier} and {later} are the same commit; name two that differ.");
        }
        catch (Win32Exception)
        {
            return Failed("commits are looked up with git, which is not on this machine; install it.");
        }
    }

    private static Commit Read(string line)
    {
        var parts = line.Split(Between, 4);
        return new Commit(parts[0], parts[1], parts[3], parts[2].Contains(' ', StringComparison.Ordinal));
    }

    private static CommitChain Failed(string problem) => new([], problem);
}
