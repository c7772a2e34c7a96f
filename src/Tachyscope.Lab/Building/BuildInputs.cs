using System.Security.Cryptography;
using System.Text.RegularExpressions;
using Tachyscope.Working;

namespace Tachyscope.Lab.Building;

/// <summary>
/// The files a build depends on: those MSBuild says it read (compiled, referenced, imported, embedded, copied), and those that could
/// have joined them since: whatever lies in the folders of its projects, and what is found by its name above them.
/// </summary>
internal static partial class BuildInputs
{
    // Written by builds and tools, not read by them.
    private static readonly string[] SkippedFolders = ["bin", "obj", "artifacts", ".git", ".vs", ".idea", "node_modules"];
    private static readonly string[] NamesAbove =
    [
        "Directory.Build.props", "Directory.Build.targets", "Directory.Packages.props", "Directory.Build.rsp", "global.json",
        "nuget.config", "NuGet.Config", ".editorconfig",
    ];

    /// <summary>Every input as it is now.</summary>
    /// <param name="project">Path of the project or single file.</param>
    /// <param name="artifacts">Folder of the build, in which MSBuild told what it read.</param>
    /// <param name="before">Inputs as they were before, whose hashes count again where time and length are the same.</param>
    public static List<BuildInput> Find(string project, string artifacts, IReadOnlyList<BuildInput> before)
    {
        var known = before.ToDictionary(input => input.Path);
        return [.. Files(project, artifacts).Distinct().Order(StringComparer.Ordinal)
            .Select(path => Now(path, known.GetValueOrDefault(path)))];
    }

    private static IEnumerable<string> Files(string project, string artifacts)
    {
        var told = Told(artifacts).Where(path => !path.StartsWith(artifacts, StringComparison.Ordinal)).ToHashSet(StringComparer.Ordinal);
        string[] projects = [project, .. told.Where(path => Path.GetExtension(path).EndsWith("proj", StringComparison.Ordinal))];
        var folders = projects.Select(path => Path.GetDirectoryName(path)!).Distinct().ToList();
        // A single file is a project by itself; what lies beside it is not its own.
        var own = Path.GetExtension(project) == ".cs" ? folders.Where(folder => folder != Path.GetDirectoryName(project)) : folders;
        return told.Where(path => IsChangeable(path) && File.Exists(path))
            .Append(project)
            .Concat(own.SelectMany(Below))
            .Concat(folders.SelectMany(Above))
            .Concat(Sdks());
    }

    /// <summary>Files of a folder that builds read.</summary>
    public static IEnumerable<string> Below(string folder)
        => Directory.EnumerateFiles(folder).Concat(Directory.EnumerateDirectories(folder)
            .Where(inner => !SkippedFolders.Contains(Path.GetFileName(inner))).SelectMany(Below));

    // What each project compiled, referenced, embedded and copied; and the log of what was imported where.
    private static IEnumerable<string> Told(string artifacts)
    {
        var folder = BuildRecipe.Told(artifacts);
        var told = Directory.Exists(folder) ? Directory.EnumerateFiles(folder, "*.inputs").SelectMany(File.ReadLines) : [];
        var log = BuildRecipe.ImportsLog(artifacts);
        var imports = File.Exists(log) ? File.ReadLines(log).Select(line => Imported().Match(line)).Where(found => found.Success) : [];
        var imported = imports.SelectMany(found => (string[])[found.Groups[1].Value, found.Groups[2].Value]);
        return told.Concat(imported).Where(Path.IsPathRooted).Select(Path.GetFullPath);
    }

    // The SDK counts by its version, and a package in its folder never changes.
    private static bool IsChangeable(string path)
        => !path.StartsWith(Path.GetDirectoryName(DotnetHost.Path) + Path.DirectorySeparatorChar, StringComparison.Ordinal)
            && !InPackage().IsMatch(path);

    private static IEnumerable<string> Above(string folder)
    {
        for (var at = folder; at is not null; at = Path.GetDirectoryName(at))
        {
            foreach (var file in NamesAbove.Select(name => Path.Combine(at, name)).Where(File.Exists))
            {
                yield return file;
            }
        }
    }

    // Another SDK is another compiler.
    private static IEnumerable<string> Sdks()
    {
        var folder = Path.Combine(Path.GetDirectoryName(DotnetHost.Path) ?? "", "sdk");
        return Directory.Exists(folder)
            ? Directory.EnumerateDirectories(folder).Select(sdk => Path.Combine(sdk, ".version")).Where(File.Exists)
            : [];
    }

    private static BuildInput Now(string path, BuildInput? before)
    {
        var file = new FileInfo(path);
        return before is not null && before.Ticks == file.LastWriteTimeUtc.Ticks && before.Length == file.Length
            ? before
            : new BuildInput(path, file.LastWriteTimeUtc.Ticks, file.Length,
                Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(path))));
    }

    // As MSBuild writes it where MSBUILDLOGIMPORTS is set.
    [GeneratedRegex("^\\s*Importing project \"(.+?)\" into project \"(.+?)\" at ")]
    private static partial Regex Imported();

    [GeneratedRegex(@"[\\/]\.nuget[\\/]packages[\\/]")]
    private static partial Regex InPackage();
}
