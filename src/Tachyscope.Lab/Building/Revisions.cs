using System.ComponentModel;
using System.Security.Cryptography;
using System.Text;
using Tachyscope.Lab.Processes;
using Tachyscope.Lab.Storing;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Building;

/// <summary>
/// Takes projects as they were at a revision of their git repository, in folders of ours; nothing is written into the repository.
/// </summary>
/// <remarks>
/// The files of a commit are written by an index of our own (git read-tree and checkout-index), with the repository's filters
/// and line ends, its submodules as far as they are there. A commit never changes, so that what was taken is kept.
/// </remarks>
public sealed class Revisions
{
    private const int NamesListed = 12;
    private const string OrFolder = "; name a folder with dir= instead";
    private const string NoGit = "revisions are taken by git, which is not on this machine; install it";
    private const string SubmoduleMode = "160000";
    private const string WholeTree = ".";
    private const int MostKept = 48;
    private static readonly TimeSpan LongestRun = TimeSpan.FromDays(1);

    /// <summary>The work tree as it is, where a revision is asked for.</summary>
    public const string Now = "now";

    private readonly string _folder;

    /// <summary>Revisions that are kept in a folder.</summary>
    /// <param name="cache">The folder; made when it is not there.</param>
    /// <exception cref="ArgumentNullException"><paramref name="cache"/> is null.</exception>
    public Revisions(string cache)
    {
        ArgumentNullException.ThrowIfNull(cache);
        _folder = Path.Combine(Path.GetFullPath(cache), "revisions");
    }

    /// <summary>Takes a project as it was.</summary>
    /// <param name="project">Path of the project or its folder, in a work tree.</param>
    /// <param name="revision">Anything git takes for a commit, such as "v1.2", "HEAD~3" or a part of its name.</param>
    /// <param name="study">Revision whose own folder of the project is laid over that, <see cref="Now"/> for the work tree as it is; null
    /// for none.</param>
    /// <param name="cancellation">Ends it early; nothing half is left behind.</param>
    public async Task<RevisionOutcome> TakeAsync(string project, string revision, string? study, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(project);
        ArgumentNullException.ThrowIfNull(revision);
        var full = Path.GetFullPath(project);
        var folder = FolderOf(full);
        try
        {
            if (await RootAsync(folder, cancellation) is not { } root)
            {
                return new RevisionOutcome(null, null, await NoRepositoryAsync(project, folder, revision, OrFolder, cancellation));
            }

            var taken = await TakeTreeAsync(root, revision, cancellation);
            if (taken.Path is null || study is null)
            {
                return Inside(taken, root, full, revision);
            }

            if (folder == root && !IsFileAlone(full))
            {
                return taken with { Path = null,
                    Problem = $"study= would lay all of {root} over revision {revision}, since the project stands at its root; put the "
                        + "study in a folder of its own." };
            }

            var over = study == Now ? new RevisionOutcome(root, null, null) : await TakeTreeAsync(root, study, cancellation);
            var source = Inside(over, root, full, study);
            return source.Path is null ? source : taken with { Path = LayOver(taken.Path, source.Path, Path.GetRelativePath(root, full)) };
        }
        catch (Win32Exception)
        {
            return new RevisionOutcome(null, null, $"{NoGit}, or{OrFolder[1..]}.");
        }
    }

    /// <summary>Why a project has no such revision, in a sentence with the way out.</summary>
    /// <param name="project">Path of the project or its folder.</param>
    /// <param name="revision">What is no revision of it.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<string> MissingAsync(string project, string revision, CancellationToken cancellation)
    {
        var folder = FolderOf(Path.GetFullPath(project));
        try
        {
            return await RootAsync(folder, cancellation) is { } root ? await NotThereAsync(root, revision, cancellation)
                : await NoRepositoryAsync(project, folder, revision, "", cancellation);
        }
        catch (Win32Exception)
        {
            return $"{NoGit}.";
        }
    }

    /// <summary>
    /// Whether a project lies below the top of its work tree, or is a single file, so that it can be laid over another revision alone.
    /// </summary>
    /// <param name="project">Path of the project or its folder.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<bool> HasFolderOfItsOwnAsync(string project, CancellationToken cancellation)
        => await PlaceAsync(project, cancellation) is ({ }, not WholeTree);

    /// <summary>Whether a project was there at a revision.</summary>
    /// <param name="project">Path of the project or its folder, in a work tree.</param>
    /// <param name="revision">The revision.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<bool> WasThereAsync(string project, string revision, CancellationToken cancellation)
        => await PlaceAsync(project, cancellation) is ({ } root, var place)
            && (place == WholeTree || await GitAsync(root, ["cat-file", "-e", $"{revision}:{place}"], cancellation) is { ExitCode: 0 });

    /// <summary>Whether two revisions differ in the folder of a project, and whether they do elsewhere.</summary>
    /// <param name="project">Path of the project or its folder, in a work tree.</param>
    /// <param name="earlier">The one revision.</param>
    /// <param name="later">The other.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<(bool InFolder, bool Elsewhere)> DifferencesAsync(
        string project, string earlier, string later, CancellationToken cancellation)
    {
        return await PlaceAsync(project, cancellation) is ({ } root, var place)
            ? place == WholeTree ? (await DifferAsync(), false)
                : (await DifferAsync($":(top,literal){place}"), await DifferAsync(":(top)", $":(top,literal,exclude){place}"))
            : (false, false);

        async Task<bool> DifferAsync(params string[] paths)
            => (await GitAsync(root, ["diff", "--quiet", earlier, later, "--", .. paths], cancellation)).ExitCode == 1;
    }

    // The top of a project's work tree; and what the project is below that, its folder or a single file, as git writes it.
    private static async Task<(string? Root, string Place)> PlaceAsync(string project, CancellationToken cancellation)
    {
        var full = Path.GetFullPath(project);
        var folder = FolderOf(full);
        return await RootAsync(folder, cancellation) is { } root
            ? (root, Path.GetRelativePath(root, IsFileAlone(full) ? full : folder).Replace(Path.DirectorySeparatorChar, '/'))
            : (null, WholeTree);
    }

    internal static string FolderOf(string project) => Directory.Exists(project) ? project : Path.GetDirectoryName(project)!;

    private static bool IsFileAlone(string project) => Path.GetExtension(project) == ".cs";

    /// <summary>The top folder of a repository's work tree; null outside one.</summary>
    internal static async Task<string?> RootAsync(string folder, CancellationToken cancellation)
        => Directory.Exists(folder) && await GitAsync(folder, ["rev-parse", "--show-toplevel"], cancellation) is { ExitCode: 0 } top
            ? top.Output.Trim() : null;

    private static async Task<string> NoRepositoryAsync(
        string project, string folder, string revision, string orElse, CancellationToken cancellation)
        => Directory.Exists(folder) && await GitAsync(folder, ["rev-parse", "--show-toplevel"], cancellation) is var asked
            && asked.All.Contains("dubious ownership", StringComparison.Ordinal)
            ? $"git does not trust the repository of {project}, whose folder belongs to somebody else, so that there is no revision "
                + $"{revision}; allow it with git config --global --add safe.directory '{asked.All.Split('\'').ElementAtOrDefault(1)}'."
            : $"{project} lies in no git repository, so that it has no revision {revision}{orElse}.";

    private static async Task<string> NotThereAsync(string root, string revision, CancellationToken cancellation)
        => $"there is no revision {revision} in {root}; there are {await NamesAsync(root, cancellation)}.";

    private async Task<RevisionOutcome> TakeTreeAsync(string root, string revision, CancellationToken cancellation)
    {
        var commit = await GitAsync(root, ["rev-parse", "--verify", "--quiet", "--end-of-options", $"{revision}^{{commit}}"], cancellation);
        if (commit.ExitCode != 0)
        {
            return new RevisionOutcome(null, null, await NotThereAsync(root, revision, cancellation));
        }

        var name = commit.Output.Trim();
        var place = Path.Combine(_folder, $"{Path.GetFileName(root)}-{Hash(root)}-{name[..12]}");
        if (!Directory.Exists(place) && await WriteAsync(root, name, place, cancellation) is { } problem)
        {
            return new RevisionOutcome(null, name, problem);
        }

        Use(place);
        return new RevisionOutcome(place, name, null);
    }

    private static RevisionOutcome Inside(RevisionOutcome tree, string root, string full, string revision)
        => tree.Path is null ? tree
            : Path.Combine(tree.Path, Path.GetRelativePath(root, full)) is var there && Path.Exists(there) ? tree with { Path = there }
            : tree with { Path = null,
                Problem = $"{Path.GetRelativePath(root, full)} is not in revision {revision}; name one that has it, or lay today's "
                    + $"study over it with study={Now}." };

    // Named by all it holds, so that it never changes either.
    private string LayOver(string tree, string source, string place)
    {
        var isFolder = Directory.Exists(source);
        var from = isFolder ? source : Path.GetDirectoryName(source)!;
        var into = isFolder ? place : Path.GetDirectoryName(place)!;
        string[] files = [.. (IsFileAlone(source) ? [source] : BuildInputs.Below(from)).Order(StringComparer.Ordinal)];
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (var file in files)
        {
            hash.AppendData(Encoding.UTF8.GetBytes(Path.GetRelativePath(from, file)));
            hash.AppendData(SHA256.HashData(File.ReadAllBytes(file)));
        }

        var whole = $"{tree}-{Convert.ToHexStringLower(hash.GetHashAndReset())[..8]}";
        if (!Directory.Exists(whole))
        {
            PutTogether(tree, whole, into, files, from);
        }

        Use(whole);
        return Path.Combine(whole, place);
    }

    private void PutTogether(string tree, string whole, string into, string[] files, string from)
    {
        var beside = Path.Combine(_folder, $"taking-{Guid.NewGuid():N}");
        try
        {
            Copy(tree, Directory.EnumerateFiles(tree, "*", SearchOption.AllDirectories), beside);
            var own = Path.Combine(beside, into);
            // What the other revision had in the study's folder and this one does not would be compiled too.
            if (files.Length > 1 && Directory.Exists(own))
            {
                Directory.Delete(own, recursive: true);
            }

            Copy(from, files, own);
            WholeFolder.Move(beside, whole);
        }
        finally
        {
            if (Directory.Exists(beside))
            {
                Directory.Delete(beside, recursive: true);
            }
        }
    }

    private static void Copy(string from, IEnumerable<string> files, string into)
    {
        foreach (var file in files)
        {
            var place = Path.Combine(into, Path.GetRelativePath(from, file));
            Directory.CreateDirectory(Path.GetDirectoryName(place)!);
            File.Copy(file, place, overwrite: true);
        }
    }

    // When it was last written tells when it was last used; those unused for longest go.
    private void Use(string place)
    {
        var now = TimeProvider.System.GetUtcNow().UtcDateTime;
        Directory.SetLastWriteTimeUtc(place, now);
        foreach (var old in new DirectoryInfo(_folder).EnumerateDirectories().OrderByDescending(folder => folder.LastWriteTimeUtc)
            .Skip(MostKept).Where(folder => folder.LastWriteTimeUtc < now - LongestRun))
        {
            old.Delete(recursive: true);
        }
    }

    /// <summary>The full name of a revision's commit.</summary>
    /// <param name="folder">A folder of the repository.</param>
    /// <param name="revision">The revision, such as HEAD~1, a branch or a tag.</param>
    /// <param name="cancellation">Ends it early.</param>
    /// <returns>Null when there is no such revision, repository, or git.</returns>
    public static async Task<string?> CommitAsync(string folder, string revision, CancellationToken cancellation)
    {
        try
        {
            var found = await GitAsync(
                Path.GetFullPath(folder), ["rev-parse", "--verify", "--quiet", "--end-of-options", $"{revision}^{{commit}}"], cancellation);
            return found.ExitCode == 0 ? found.Output.Trim() : null;
        }
        catch (Win32Exception)
        {
            return null;
        }
    }

    /// <summary>Where a project's work tree stands; nowhere outside a repository.</summary>
    /// <param name="project">Path of the project or its folder.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<CodeState> StateAsync(string project, CancellationToken cancellation)
    {
        var full = Path.GetFullPath(project);
        var folder = FolderOf(full);
        try
        {
            var status = Directory.Exists(folder)
                ? await GitAsync(folder, ["status", "--porcelain=v2", "--branch"], cancellation)
                : new FinishedCommand(1, "");
            return status.ExitCode == 0 ? ReadState(status.Output.Split('\n', StringSplitOptions.RemoveEmptyEntries)) : new CodeState();
        }
        catch (Win32Exception)
        {
            return new CodeState();
        }
    }

    private static CodeState ReadState(string[] lines)
    {
        var (commit, branch) = (Told("# branch.oid "), Told("# branch.head "));
        return new CodeState
        {
            Commit = commit is null or "(initial)" ? null : commit,
            Branch = branch is null or "(detached)" ? null : branch,
            // The history of runs is no part of the code.
            IsDirty = lines.Any(line => line[0] != '#' && !line.Contains(HistoryFile.Name, StringComparison.Ordinal)),
        };

        string? Told(string mark) => lines.FirstOrDefault(line => line.StartsWith(mark, StringComparison.Ordinal))?[mark.Length..];
    }

    // Beside its place first, then moved there as a whole.
    private async Task<string?> WriteAsync(string root, string commit, string place, CancellationToken cancellation)
    {
        Directory.CreateDirectory(_folder);
        var beside = Path.Combine(_folder, $"taking-{Guid.NewGuid():N}");
        try
        {
            if (await CheckOutAsync(root, commit, Path.Combine(beside, "files"), Path.Combine(beside, "index"),
                cancellation) is { } problem)
            {
                return problem;
            }

            WholeFolder.Move(Path.Combine(beside, "files"), place);
            return null;
        }
        finally
        {
            Directory.Delete(beside, recursive: true);
        }
    }

    private static async Task<string?> CheckOutAsync(string root, string commit, string files, string index, CancellationToken cancellation)
    {
        Directory.CreateDirectory(files);
        (string, string)[] own = [("GIT_INDEX_FILE", index)];
        foreach (var step in (string[][])[["read-tree", commit],
            ["checkout-index", "--all", "--force", $"--prefix={files}{Path.DirectorySeparatorChar}"]])
        {
            if (await GitAsync(root, step, cancellation, own) is { ExitCode: not 0 } failed)
            {
                return $"revision {commit[..12]} of {root} could not be taken: {failed.All.Trim()}";
            }
        }

        var tree = await GitAsync(root, ["ls-tree", "-r", "-z", commit], cancellation);
        foreach (var entry in tree.Output.Split('\0').Where(entry => entry.StartsWith(SubmoduleMode, StringComparison.Ordinal)))
        {
            var (mode, path) = (entry[..entry.IndexOf('\t', StringComparison.Ordinal)]
                .Split(' '), entry[(entry.IndexOf('\t', StringComparison.Ordinal) + 1)..]);
            var submodule = Path.Combine(root, path);
            if (!Path.Exists(Path.Combine(submodule, ".git")))
            {
                return $"the submodule {path} of {root} is not there; fetch it with git submodule update --init.";
            }

            if (await CheckOutAsync(submodule, mode[2], Path.Combine(files, path), $"{index}-{Hash(path)}", cancellation) is { } problem)
            {
                return problem;
            }
        }

        return null;
    }

    private static async Task<string> NamesAsync(string root, CancellationToken cancellation)
    {
        var names = (await GitAsync(root, ["for-each-ref", "--sort=-committerdate", "--format=%(refname:short)", "refs/heads", "refs/tags"],
            cancellation)).Output
            .Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        return names.Length == 0
            ? "no branches and no tags"
            : string.Join(", ", names.Take(NamesListed))
                + (names.Length > NamesListed ? FormattableString.Invariant($" and {names.Length - NamesListed} more") : "");
    }

    internal static Task<FinishedCommand> GitAsync(string folder, string[] arguments, CancellationToken cancellation,
        params (string, string)[] variables)
        => ShellCommand.RunAsync("git", folder, ["--no-optional-locks", .. arguments], variables, cancellation);

    private static string Hash(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)))[..8];
}
