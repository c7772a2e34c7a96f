using System.Text.Json;
using Tachyscope.Lab.Processes;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Building;

/// <summary>Looks whether a build got the packages its target asks for.</summary>
internal static class PackageCheck
{
    /// <summary>What is wrong, in a sentence with what there is; null when the build got them all, or says itself why it did not.</summary>
    /// <param name="target">The target.</param>
    /// <param name="project">Path of the project.</param>
    /// <param name="artifacts">Folder of the build.</param>
    /// <param name="cancellation">Ends it early.</param>
    public static async Task<string?> ProblemAsync(Target target, string project, string artifacts, CancellationToken cancellation)
    {
        var restored = Restored(project, artifacts);
        foreach (var (name, version) in target.Packages)
        {
            var found = restored?.Got.GetValueOrDefault(name);
            if (found == version)
            {
                continue;
            }

            if (await NotServedAsync(name, version, cancellation) is { } missing)
            {
                return missing;
            }

            if (restored is { } there)
            {
                return found is null
                    ? $"the project references no package {name}; it references "
                        + $"{(there.Direct.Count == 0 ? "none" : string.Join(", ", there.Direct))}."
                    : $"the build took {name} {found} and not {version}, since it is no direct reference of the project or another "
                        + "package needs that; reference it in the project.";
            }
        }

        return null;
    }

    private static async Task<string?> NotServedAsync(string name, string version, CancellationToken cancellation)
    {
        var served = await Registry.VersionsAsync(ShellCommand.DotnetAsync, name, cancellation);
        return served.Contains(version) || served.Count == 0
            ? null
            : $"there is no {name} {version}; it is served in {Registry.List(served)}.";
    }

    // Packages and their versions, and those the project names itself, as restoring left them; null when it never came so far.
    private static (Dictionary<string, string> Got, IReadOnlyList<string> Direct)? Restored(string project, string artifacts)
    {
        var objects = Path.Combine(artifacts, "obj");
        foreach (var file in Directory.Exists(objects)
            ? Directory.EnumerateFiles(objects, "project.assets.json", SearchOption.AllDirectories)
            : [])
        {
            using var assets = JsonDocument.Parse(File.ReadAllBytes(file));
            var described = assets.RootElement.GetProperty("project");
            if (described.GetProperty("restore").GetProperty("projectPath").GetString() == project)
            {
                var got = assets.RootElement.GetProperty("libraries").EnumerateObject()
                    .Where(library => library.Value.GetProperty("type").GetString() == "package")
                    .Select(library => library.Name.Split('/'))
                    .GroupBy(parts => parts[0], parts => parts[1], StringComparer.OrdinalIgnoreCase)
                    .ToDictionary(group => group.Key, group => group.First(), StringComparer.OrdinalIgnoreCase);
                var direct = described.GetProperty("frameworks").EnumerateObject()
                    .SelectMany(framework => framework.Value.TryGetProperty("dependencies", out var own)
                        ? own.EnumerateObject().Select(package => package.Name)
                        : [])
                    .Distinct().Order(StringComparer.OrdinalIgnoreCase).ToList();
                return (got, direct);
            }
        }

        return null;
    }
}
