using Tachyscope.Cli.Tries;

namespace Tachyscope.Cli.Demo;

/// <summary>The demo that comes with the tool: sources beside it, laid out as a project wherever builds are kept.</summary>
internal static class ShippedDemo
{
    private const string Folder = "demo";
    private const string Sources = "SignalStation";

    /// <summary>Lays the demo out and returns the path of its project.</summary>
    public static string Unpack(string cache)
    {
        var target = Path.Combine(cache, Folder, Tool.Version, Sources);
        Directory.CreateDirectory(target);
        foreach (var source in Directory.GetFiles(Path.Combine(AppContext.BaseDirectory, Folder, Sources)))
        {
            CopyIfChanged(source, Path.Combine(target, Path.GetFileName(source)));
        }

        var project = Path.Combine(target, $"{Sources}.csproj");
        WriteIfChanged(project, Kit.Project([]));
        return project;
    }

    // An unchanged file keeps its time, so that an unchanged demo is not built again.
    private static void CopyIfChanged(string source, string target) => WriteIfChanged(target, File.ReadAllText(source));

    private static void WriteIfChanged(string path, string text)
    {
        if (!File.Exists(path) || File.ReadAllText(path) != text)
        {
            File.WriteAllText(path, text);
        }
    }
}
