using System.Text.Json;
using Tachyscope.Lab.Building;
using Tachyscope.Snippets;

namespace Tachyscope.Cli.Tries;

/// <summary>A study made of snippets, laid out where builds are kept: built at once, and as a project for targets that ask for another
/// build.</summary>
internal sealed class TryFolder
{
    /// <summary>Name of the study and of its files.</summary>
    public const string Name = "snippets";

    /// <summary>Folder of all of them, where builds are kept.</summary>
    public const string Parent = "tries";

    private const int MostKept = 20;
    private static readonly TimeSpan Spared = TimeSpan.FromDays(1);

    private readonly string _folder;

    private TryFolder(string folder) => _folder = folder;

    /// <summary>The program, compiled.</summary>
    public string Assembly => Path.Combine(_folder, "built", $"{Name}.dll");

    /// <summary>The same as a project.</summary>
    public string Project => Path.Combine(_folder, "project", $"{Name}.csproj");

    private string Doubts => Path.Combine(_folder, "doubts.json");

    /// <summary>Makes the study, or finds it as it was made before.</summary>
    /// <param name="cache">Where builds are kept.</param>
    /// <param name="wish">The snippets and what they need.</param>
    /// <param name="runtimeSettings">Settings of the runtime that a referenced program starts with; null for the usual ones.</param>
    public static (TryFolder? Folder, MadeStudy Made) Lay(string cache, SnippetWish wish, string? runtimeSettings)
    {
        var tries = Path.Combine(cache, Parent);
        var folder = new TryFolder(Path.Combine(tries, Key(wish)));
        if (File.Exists(folder.Doubts))
        {
            Directory.SetLastWriteTimeUtc(folder._folder, DateTime.UtcNow);
            var doubts = JsonSerializer.Deserialize(File.ReadAllText(folder.Doubts), CachedJson.Default.SnippetProblemArray);
            return (folder, new MadeStudy { Doubts = doubts ?? [] });
        }

        var made = SnippetCompiler.Make(wish, Kit.Own, Name);
        if (made.Problems.Count > 0)
        {
            return (null, made);
        }

        // Beside its place and then moved there, since the same line may be tried twice at once.
        var aside = new TryFolder($"{folder._folder}-{Environment.ProcessId}");
        aside.Write(made, wish, runtimeSettings);
        try
        {
            Directory.Move(aside._folder, folder._folder);
        }
        catch (IOException) when (File.Exists(folder.Doubts))
        {
            Directory.Delete(aside._folder, recursive: true);
        }

        Prune(tries);
        return (folder, made);
    }

    private void Write(MadeStudy made, SnippetWish wish, string? runtimeSettings)
    {
        var (built, project) = (Path.GetDirectoryName(Assembly)!, Path.GetDirectoryName(Project)!);
        Directory.CreateDirectory(built);
        Directory.CreateDirectory(project);
        string[] references = [.. wish.References.Concat(wish.Projects).Distinct()];
        foreach (var reference in references.Append(Kit.Own))
        {
            File.Copy(reference, Path.Combine(built, Path.GetFileName(reference)), overwrite: true);
        }

        File.WriteAllBytes(Assembly, made.Assembly.ToArray());
        File.WriteAllText(Path.ChangeExtension(Assembly, ".runtimeconfig.json"), runtimeSettings ?? UsualSettings());
        File.WriteAllText(Path.Combine(project, "Snippets.cs"), made.Source);
        File.WriteAllText(Project, Kit.Project(references));
        File.WriteAllText(Doubts, JsonSerializer.Serialize([.. made.Doubts], CachedJson.Default.SnippetProblemArray));
    }

    private static string UsualSettings()
        => $$"""
            {
              "runtimeOptions": {
                "tfm": "{{Kit.OwnFramework}}",
                "framework": { "name": "Microsoft.NETCore.App", "version": "{{Environment.Version}}" }
              }
            }

            """;

    private static string Key(SnippetWish wish)
    {
        var times = wish.References.Concat(wish.Projects).Select(path => $"{path} {File.GetLastWriteTimeUtc(path).Ticks}");
        string[] makers =
        [
            typeof(SnippetCompiler).Assembly.ManifestModule.ModuleVersionId.ToString(),
            $"{Kit.Own} {File.GetLastWriteTimeUtc(Kit.Own).Ticks}", Environment.Version.ToString(),
        ];
        return BuildCache.NameOf(string.Join('\n', [JsonSerializer.Serialize(wish, CachedJson.Default.SnippetWish), .. times, .. makers]));
    }

    // What was used today may be in use now.
    private static void Prune(string tries)
    {
        var all = new DirectoryInfo(tries).EnumerateDirectories().OrderByDescending(folder => folder.LastWriteTimeUtc);
        foreach (var old in all.Skip(MostKept).Where(folder => DateTime.UtcNow - folder.LastWriteTimeUtc > Spared))
        {
            try
            {
                old.Delete(recursive: true);
            }
            catch (IOException)
            {
                // Somebody else is at it.
            }
        }
    }
}
