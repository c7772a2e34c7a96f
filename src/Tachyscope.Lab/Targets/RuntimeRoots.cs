using System.Runtime.InteropServices;
using System.Text.RegularExpressions;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.Processes;
using Tachyscope.Lab.Storing;
using Tachyscope.Working;

namespace Tachyscope.Lab.Targets;

/// <summary>
/// Finds the runtimes that targets ask for: the installed ones, and any other from the registry's runtime packs, laid out in a
/// root of our own beside a copy of the installed host.
/// </summary>
public sealed partial class RuntimeRoots
{
    private const string Framework = "Microsoft.NETCore.App";

    private readonly string _folder;
    private readonly Func<string[], CancellationToken, Task<FinishedCommand>> _dotnet;

    /// <summary>Runtimes that are kept in a folder.</summary>
    /// <param name="cache">The folder; made when it is not there.</param>
    /// <exception cref="ArgumentNullException"><paramref name="cache"/> is null.</exception>
    public RuntimeRoots(string cache)
        : this(cache, ShellCommand.DotnetAsync)
    {
    }

    internal RuntimeRoots(string cache, Func<string[], CancellationToken, Task<FinishedCommand>> dotnet)
    {
        ArgumentNullException.ThrowIfNull(cache);
        _folder = Path.Combine(Path.GetFullPath(cache), "runtimes");
        _dotnet = dotnet;
    }

    private static string Pack => $"{Framework}.Runtime.{Platform}";

    private static string Platform
    {
        get
        {
            var system = OperatingSystem.IsWindows() ? "win" : OperatingSystem.IsMacOS() ? "osx"
                : RuntimeInformation.RuntimeIdentifier.Contains("musl", StringComparison.Ordinal) ? "linux-musl" : "linux";
            return $"{system}-{RuntimeInformation.ProcessArchitecture.ToString().ToLowerInvariant()}";
        }
    }

    /// <summary>Finds a runtime, and fetches it when it is not on this machine.</summary>
    /// <param name="wish">A line such as "net8.0", of which the newest counts, or an exact version such as "8.0.31".</param>
    /// <param name="cancellation">Ends it early; nothing half is left behind.</param>
    public async Task<RuntimeOutcome> FindAsync(string wish, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(wish);
        var installed = Versions((await _dotnet(["--list-runtimes"], cancellation)).Output);
        if (Newest(installed, wish) is { } there)
        {
            return new RuntimeOutcome(new FoundRuntime(DotnetHost.Path, there));
        }

        if (Newest(Kept(), wish) is { } kept)
        {
            return new RuntimeOutcome(new FoundRuntime(Host(), kept));
        }

        var served = await Registry.VersionsAsync(_dotnet, Pack, cancellation);
        if (served.Count == 0)
        {
            return new RuntimeOutcome(null,
                $"the runtime {wish} is neither installed nor kept in {_folder}, and no registry that could be asked serves {Pack}; "
                    + $"installed are {Registry.List(installed)}.");
        }

        return Newest(served, wish) is { } version
            ? await FetchAsync(version, cancellation)
            : new RuntimeOutcome(null,
                $"there is no runtime {wish}; installed are {Registry.List(installed)}, and the registry serves {Registry.List(served)}.",
                IsWrongUse: true);
    }

    private async Task<RuntimeOutcome> FetchAsync(string version, CancellationToken cancellation)
    {
        var work = Path.Combine(_folder, $"fetch-{Guid.NewGuid():N}");
        Directory.CreateDirectory(work);
        try
        {
            var project = Path.Combine(work, "fetch.proj");
            await File.WriteAllTextAsync(
                project,
                $"""
                <Project Sdk="Microsoft.NET.Sdk">
                  <PropertyGroup><TargetFramework>net{Environment.Version.ToString(2)}</TargetFramework></PropertyGroup>
                  <ItemGroup><PackageDownload Include="{Pack}" Version="[{version}]" /></ItemGroup>
                </Project>
                """,
                cancellation);
            var restored = await _dotnet(["restore", project, "-nologo", "-tl:off", "-v:q"], cancellation);
            var packages = await _dotnet(["msbuild", project, "-nologo", "-getProperty:NuGetPackageRoot"], cancellation);
            var pack = Path.Combine(packages.Output.Trim(), Pack.ToLowerInvariant(), version, "runtimes", Platform);
            if (restored.ExitCode != 0 || !Directory.Exists(pack))
            {
                return new RuntimeOutcome(null, $"{Pack} {version} could not be fetched: {restored.All.Trim().Split('\n')[^1].Trim()}");
            }

            LayOut(pack, version, Path.Combine(work, version));
            return new RuntimeOutcome(new FoundRuntime(Host(), version));
        }
        finally
        {
            Directory.Delete(work, recursive: true);
        }
    }

    // Beside its place first, then moved there as a whole: two runs at once may both be at it.
    private void LayOut(string pack, string version, string beside)
    {
        Directory.CreateDirectory(beside);
        foreach (var file in Directory.EnumerateFiles(Path.Combine(pack, "native"))
            .Concat(Directory.EnumerateDirectories(Path.Combine(pack, "lib")).SelectMany(Directory.EnumerateFiles)))
        {
            File.Copy(file, Path.Combine(beside, Path.GetFileName(file)));
        }

        Directory.CreateDirectory(Path.Combine(_folder, "shared", Framework));
        WholeFolder.Move(beside, Path.Combine(_folder, "shared", Framework, version));
    }

    /// <summary>The copy of the installed host, which looks for frameworks beside itself.</summary>
    private string Host()
    {
        var installed = Path.GetDirectoryName(DotnetHost.Path)!;
        foreach (var library in Directory.EnumerateDirectories(Path.Combine(installed, "host", "fxr")))
        {
            var place = Path.Combine(_folder, "host", "fxr", Path.GetFileName(library));
            if (!Directory.Exists(place))
            {
                var beside = Path.Combine(_folder, $"host-{Guid.NewGuid():N}");
                Directory.CreateDirectory(beside);
                foreach (var file in Directory.EnumerateFiles(library))
                {
                    File.Copy(file, Path.Combine(beside, Path.GetFileName(file)));
                }

                Directory.CreateDirectory(Path.GetDirectoryName(place)!);
                WholeFolder.Move(beside, place);
            }
        }

        var host = Path.Combine(_folder, Path.GetFileName(DotnetHost.Path));
        if (!File.Exists(host) || File.GetLastWriteTimeUtc(host) < File.GetLastWriteTimeUtc(DotnetHost.Path))
        {
            var beside = $"{host}.{Guid.NewGuid():N}";
            File.Copy(DotnetHost.Path, beside);
            File.Move(beside, host, overwrite: true);
        }

        return host;
    }

    private List<string> Kept()
    {
        var shared = Path.Combine(_folder, "shared", Framework);
        return Directory.Exists(shared) ? [.. Directory.EnumerateDirectories(shared).Select(folder => Path.GetFileName(folder)!)] : [];
    }

    private static List<string> Versions(string list)
        => [.. InstalledLine().Matches(list).Select(match => match.Groups[1].Value)];

    private static string? Newest(IReadOnlyList<string> versions, string wish)
        => wish.StartsWith("net", StringComparison.Ordinal)
            ? versions.Where(version => Released().IsMatch(version) && version.StartsWith($"{wish[3..]}.", StringComparison.Ordinal))
                .MaxBy(System.Version.Parse)
            : versions.FirstOrDefault(version => version == wish);

    [GeneratedRegex(@"^Microsoft\.NETCore\.App (\S+) ", RegexOptions.Multiline)]
    private static partial Regex InstalledLine();

    [GeneratedRegex(@"^\d+\.\d+\.\d+$")]
    private static partial Regex Released();
}
