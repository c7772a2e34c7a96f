namespace Tachyscope.Lab.Building;

/// <summary>Finds what a path on the command line means: a project, a folder with one, a single file, or an assembly.</summary>
internal sealed record ProjectPath(string FullPath, bool IsAssembly)
{
    private static readonly string[] ProjectEndings = [".csproj", ".fsproj", ".vbproj", ".cs"];

    public static (ProjectPath? Project, string? Problem) Find(string path)
    {
        var full = Path.GetFullPath(path);
        if (Directory.Exists(full))
        {
            return InFolder(path, full);
        }

        if (!File.Exists(full))
        {
            return (null, $"there is no file or folder {path}; name a project folder, a .csproj, a .cs file or a built .dll.");
        }

        var ending = Path.GetExtension(full);
        if (ending.Equals(".dll", StringComparison.OrdinalIgnoreCase))
        {
            return File.Exists(Path.ChangeExtension(full, ".runtimeconfig.json"))
                ? (new(full, IsAssembly: true), null)
                : (null, $"{path} is no program: there is no {Path.GetFileNameWithoutExtension(full)}.runtimeconfig.json beside it; "
                    + "name the .dll of a built executable project.");
        }

        return ProjectEndings.Contains(ending, StringComparer.OrdinalIgnoreCase)
            ? (new(full, IsAssembly: false), null)
            : (null, $"{path} is no project; name a project folder, a .csproj, a .cs file or a built .dll.");
    }

    private static (ProjectPath? Project, string? Problem) InFolder(string path, string full)
    {
        var projects = Directory.GetFiles(full, "*.*proj");
        return projects.Length switch
        {
            1 => (new(projects[0], IsAssembly: false), null),
            0 => (null, $"the folder {path} holds no project and no study.json; name the folder of a .csproj, or the project itself."),
            _ => (null, $"the folder {path} holds {projects.Length} projects ({string.Join(", ", projects.Select(Path.GetFileName))}); "
                + "name one of them."),
        };
    }
}
