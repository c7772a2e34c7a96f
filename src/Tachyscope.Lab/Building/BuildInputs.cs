using System.Security.Cryptography;
using System.Text.Json;
using Tachyscope.Working;

namespace Tachyscope.Lab.Building;

/// <summary>The files a build depends on: those of the project's folder and of the projects it references, and what stands above them.</summary>
internal static class BuildInputs
{
    // Written by builds and tools, not read by them.
    private static readonly string[] SkippedFolders = ["bin", "obj", "artifacts", ".git", ".vs", ".idea", "node_modules"];
    private static readonly string[] NamesAbove = ["Directory.Build.props", "Directory.Build.targets", "Directory.Packages.props", "global.json", "nuget.config", "NuGet.Config", ".editorconfig"];

    /// <summary>Every input as it is now.</summary>
    /// <param name="project">Path of the project or single file.</param>
    /// <param name="artifacts">Folder of the build, which knows what the project references; what it does not know yet is missing.</param>
    /// <param name="before">Inputs as they were before, whose hashes count again where time and length are the same.</param>
    public static List<BuildInput> Find(string project, string artifacts, IReadOnlyList<BuildInput> before)
    {
        var known = before.ToDictionary(input => input.Path);
        return [.. Files(project, artifacts).Distinct().Order(StringComparer.Ordinal).Select(path => Now(path, known.GetValueOrDefault(path)))];
    }

    private static IEnumerable<string> Files(string project, string artifacts)
    {
        string[] projects = [project, .. Referenced(artifacts)];
        var folders = projects.Select(path => Path.GetDirectoryName(path)!).Distinct().ToList();
        // A single file is a project by itself; what lies beside it is not its own.
        var own = Path.GetExtension(project) == ".cs" ? folders.Where(folder => folder != Path.GetDirectoryName(project)) : folders;
        return projects.Concat(own.SelectMany(Below)).Concat(folders.SelectMany(Above)).Concat(Sdks());
    }

    /// <summary>Files of a folder that builds read.</summary>
    public static IEnumerable<string> Below(string folder)
        => Directory.EnumerateFiles(folder).Concat(Directory.EnumerateDirectories(folder).Where(inner => !SkippedFolders.Contains(Path.GetFileName(inner))).SelectMany(Below));

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
        return Directory.Exists(folder) ? Directory.EnumerateDirectories(folder).Select(sdk => Path.Combine(sdk, ".version")).Where(File.Exists) : [];
    }

    private static IEnumerable<string> Referenced(string artifacts)
    {
        var objects = Path.Combine(artifacts, "obj");
        return !Directory.Exists(objects) ? [] : Directory.EnumerateFiles(objects, "project.assets.json", SearchOption.AllDirectories).SelectMany(assets =>
        {
            using var json = JsonDocument.Parse(File.ReadAllBytes(assets));
            return json.RootElement.TryGetProperty("project", out var described) && described.TryGetProperty("restore", out var restore)
                ? [restore.GetProperty("projectPath").GetString()!]
                : (string[])[];
        }).Where(File.Exists);
    }

    private static BuildInput Now(string path, BuildInput? before)
    {
        var file = new FileInfo(path);
        return before is not null && before.Ticks == file.LastWriteTimeUtc.Ticks && before.Length == file.Length
            ? before
            : new BuildInput(path, file.LastWriteTimeUtc.Ticks, file.Length, Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(path))));
    }
}
