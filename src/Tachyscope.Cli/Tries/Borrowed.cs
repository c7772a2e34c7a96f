using Tachyscope.Lab.Building;

namespace Tachyscope.Cli.Tries;

/// <summary>Assemblies that snippets use beyond the framework's: a project's, packages', files.</summary>
internal sealed class Borrowed(string cache)
{
    private readonly List<string> _references = [];
    private readonly List<string> _projects = [];

    /// <summary>Assemblies to reference.</summary>
    public IReadOnlyList<string> References => _references;

    /// <summary>Assemblies all of whose namespaces are in scope.</summary>
    public IReadOnlyList<string> Projects => _projects;

    /// <summary>Settings of the runtime of a project that is a program; null for none.</summary>
    public string? RuntimeSettings { get; private set; }

    /// <summary>Takes a file; what is wrong with it, or null.</summary>
    public string? AddFile(string path)
    {
        if (!File.Exists(path))
        {
            return $"--reference {path}: there is no such file; name a .dll.";
        }

        if (!IsManaged(path))
        {
            return $"--reference {path}: this is no .NET assembly; name one.";
        }

        _references.Add(Path.GetFullPath(path));
        return null;
    }

    /// <summary>Builds a project and takes what it made.</summary>
    public async Task<BuildOutcome> AddProjectAsync(string path, CancellationToken cancellation)
    {
        var built = await Build(path, cancellation);
        if (built.Assembly is { } assembly)
        {
            _projects.Add(assembly);
            AddBeside(assembly);
            var settings = Path.ChangeExtension(assembly, ".runtimeconfig.json");
            RuntimeSettings = File.Exists(settings) ? await File.ReadAllTextAsync(settings, cancellation) : null;
        }

        return built;
    }

    /// <summary>Restores packages, NAME or NAME=VERSION, and takes what is in them.</summary>
    public async Task<BuildOutcome> AddPackagesAsync(IReadOnlyList<string> packages, CancellationToken cancellation)
    {
        var folder = Path.Combine(cache, TryFolder.Parent, $"packages-{BuildCache.NameOf(string.Join('\n', packages))}");
        Directory.CreateDirectory(folder);
        var project = Path.Combine(folder, "packages.csproj");
        var text = PackagesProject(packages);
        // An unchanged file keeps its time, so that it is not restored again.
        if (!File.Exists(project) || await File.ReadAllTextAsync(project, cancellation) != text)
        {
            await File.WriteAllTextAsync(project, text, cancellation);
        }

        var built = await Build(project, cancellation);
        if (built.Assembly is { } assembly)
        {
            AddBeside(assembly);
        }

        return built;
    }

    // With what is internal, as code of the project itself would see it.
    private Task<BuildOutcome> Build(string path, CancellationToken cancellation)
        => new ProjectBuilder(cache) { IsLibraryTaken = true, Friend = TryFolder.Name }.BuildAsync(path, cancellation);

    private void AddBeside(string assembly)
        => _references.AddRange(Directory.EnumerateFiles(Path.GetDirectoryName(assembly)!, "*.dll")
            .Where(path => path != assembly && Path.GetFileName(path) != Kit.Assembly
                && !_references.Exists(known => Path.GetFileName(known) == Path.GetFileName(path)) && IsManaged(path)));

    private static bool IsManaged(string path)
    {
        try
        {
            return System.Reflection.AssemblyName.GetAssemblyName(path).Name is not null;
        }
        catch (BadImageFormatException)
        {
            return false;
        }
    }

    private static string PackagesProject(IReadOnlyList<string> packages)
    {
        var references = packages.Select(package => package.Split('=', 2))
            .Select(parts => (Name: Escaped(parts[0]), Version: parts.Length == 2 ? $"[{Escaped(parts[1])}]" : "*"))
            .Select(package => $"    <PackageReference Include=\"{package.Name}\" Version=\"{package.Version}\" />\n");
        return $"""
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup>
                <TargetFramework>{Kit.OwnFramework}</TargetFramework>
                <CopyLocalLockFileAssemblies>true</CopyLocalLockFileAssemblies>
                <ManagePackageVersionsCentrally>false</ManagePackageVersionsCentrally>
              </PropertyGroup>
              <ItemGroup>
            {string.Concat(references)}  </ItemGroup>
            </Project>

            """;
    }

    private static string Escaped(string value) => System.Security.SecurityElement.Escape(value.Trim());
}
