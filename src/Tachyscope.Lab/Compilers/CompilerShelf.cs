using System.Reflection;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Processes;

namespace Tachyscope.Lab.Compilers;

/// <summary>Keeps C# compilers of stated versions: a small host of ours, built on the compiler's package of that version.</summary>
public sealed class CompilerShelf
{
    private const string Package = "Microsoft.CodeAnalysis.CSharp";
    private const string Source = "Host.cs.txt";

    private readonly string _folder;

    /// <summary>Compilers that are kept in a folder.</summary>
    /// <param name="cache">The folder; made when it is not there.</param>
    /// <exception cref="ArgumentNullException"><paramref name="cache"/> is null.</exception>
    public CompilerShelf(string cache)
    {
        ArgumentNullException.ThrowIfNull(cache);
        _folder = Path.Combine(Path.GetFullPath(cache), "compilers");
    }

    /// <summary>Finds a compiler, and makes it when it is not there.</summary>
    /// <param name="version">Version of its package, such as "4.14.0".</param>
    /// <param name="cancellation">Ends it early.</param>
    public async Task<CompilerOutcome> FindAsync(string version, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(version);
        using var folder = await BuildFolder.TakeAsync(Path.Combine(_folder, version), cancellation);
        var program = Path.Combine(folder.Path, "program", OperatingSystem.IsWindows() ? "csc.exe" : "csc");
        if (File.Exists(program))
        {
            return new CompilerOutcome(program, null);
        }

        var project = Path.Combine(folder.Path, "csc.csproj");
        await File.WriteAllTextAsync(project, Project(version), cancellation);
        await File.WriteAllTextAsync(Path.Combine(folder.Path, "Host.cs"), await SourceAsync(cancellation), cancellation);
        var built = await ShellCommand.DotnetAsync(
            ["publish", project, "-nologo", "-tl:off", "-v:q", "-clp:NoSummary", "-c", "Release", "-o", Path.Combine(folder.Path, "making"),
                $"-p:ArtifactsPath={Path.Combine(folder.Path, "artifacts")}", "-p:UseArtifactsOutput=true"], cancellation);
        if (built.ExitCode != 0)
        {
            var served = await Registry.VersionsAsync(ShellCommand.DotnetAsync, Package, cancellation);
            var lines = built.All.Split('\n');
            var reason = Array.Find(lines, line => line.Contains("error", StringComparison.Ordinal))?.Trim() ?? built.All.Trim();
            return served.Count > 0 && !served.Contains(version)
                ? new CompilerOutcome(null, $"there is no compiler {version}; {Package} is served in {Registry.List(served)}.",
                    IsWrongUse: true)
                : new CompilerOutcome(null, $"the compiler {version} could not be made of {Package} {version}: {reason}");
        }

        Directory.Delete(Path.Combine(folder.Path, "artifacts"), recursive: true);
        Directory.Move(Path.Combine(folder.Path, "making"), Path.Combine(folder.Path, "program"));
        return new CompilerOutcome(program, null);
    }

    // Nothing above the folder is to bend it.
    private static string Project(string version)
        => $"""
            <Project Sdk="Microsoft.NET.Sdk">
              <PropertyGroup>
                <OutputType>Exe</OutputType>
                <TargetFramework>net{Environment.Version.ToString(2)}</TargetFramework>
                <AssemblyName>csc</AssemblyName>
                <Nullable>enable</Nullable>
                <LangVersion>latest</LangVersion>
                <TieredPGO>false</TieredPGO>
                <SatelliteResourceLanguages>en</SatelliteResourceLanguages>
                <ImportDirectoryBuildProps>false</ImportDirectoryBuildProps>
                <ImportDirectoryBuildTargets>false</ImportDirectoryBuildTargets>
                <ManagePackageVersionsCentrally>false</ManagePackageVersionsCentrally>
              </PropertyGroup>
              <ItemGroup><PackageReference Include="{Package}" Version="[{version}]" /></ItemGroup>
            </Project>
            """;

    private static async Task<string> SourceAsync(CancellationToken cancellation)
    {
        await using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream(Source)!;
        using var reader = new StreamReader(stream);
        return await reader.ReadToEndAsync(cancellation);
    }
}
