using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace Tachyscope.Lab.Building;

/// <summary>Builds study projects in Release with the dotnet command, into a folder of ours outside the user's tree.</summary>
public sealed partial class ProjectBuilder
{
    private const int MostErrors = 8;

    private readonly string _cache;

    /// <summary>A builder that keeps its builds in a folder.</summary>
    /// <param name="cache">The folder; made when it is not there.</param>
    public ProjectBuilder(string cache)
    {
        ArgumentNullException.ThrowIfNull(cache);
        _cache = Path.GetFullPath(cache);
    }

    /// <summary>Where builds are kept unless the environment variable TACHYSCOPE_CACHE names another folder.</summary>
    public static string DefaultCache
        => Environment.GetEnvironmentVariable("TACHYSCOPE_CACHE") is { Length: > 0 } chosen
            ? chosen
            : Path.Combine(
                Environment.GetFolderPath(Environment.SpecialFolder.LocalApplicationData, Environment.SpecialFolderOption.DoNotVerify), "tachyscope");

    /// <summary>Builds a project, or takes an assembly as it is.</summary>
    /// <param name="path">A project folder, a project, a single .cs file or a built .dll.</param>
    /// <param name="cancellation">Ends the build.</param>
    public async Task<BuildOutcome> BuildAsync(string path, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(path);
        var (project, problem) = ProjectPath.Find(path);
        if (project is null)
        {
            return new BuildOutcome { IsWrongUse = true, Errors = [problem!] };
        }

        if (project.IsAssembly)
        {
            return new BuildOutcome { Assembly = project.FullPath };
        }

        var artifacts = Path.Combine(_cache, "builds", Key(project.FullPath));
        Directory.CreateDirectory(artifacts);
        var log = Path.Combine(artifacts, "build.log");
        // A single file is meant for ahead-of-time publishing unless told otherwise, and then no loop could be emitted.
        string[] single = Path.GetExtension(project.FullPath) == ".cs" ? ["-p:PublishAot=false"] : [];
        string[] common = [.. single, "-p:Configuration=Release", $"-p:ArtifactsPath={artifacts}", "-p:UseArtifactsOutput=true", "-p:TachyscopeFromTool=true"];
        var (framework, evaluation) = await ChooseFrameworkAsync(project.FullPath, common, cancellation);
        if (evaluation.ExitCode != 0)
        {
            await File.WriteAllTextAsync(log, evaluation.Output, cancellation);
            return new BuildOutcome { Errors = Errors(evaluation.Output, project.FullPath), Log = log };
        }

        string[] chosen = framework is null ? common : [.. common, $"-p:TargetFramework={framework}"];
        var build = await DotnetCommand.RunAsync(["build", project.FullPath, "-nologo", "-tl:off", "-v:m", "-clp:NoSummary", .. chosen], cancellation);
        await File.WriteAllTextAsync(log, build.Output, cancellation);
        return build.ExitCode == 0
            ? await AssemblyAsync(project.FullPath, chosen, log, cancellation)
            : new BuildOutcome { Errors = Errors(build.Output, project.FullPath), Log = log };
    }

    private static async Task<BuildOutcome> AssemblyAsync(string project, string[] properties, string log, CancellationToken cancellation)
    {
        var evaluated = await PropertiesAsync(project, ["TargetPath", "OutputType"], properties, cancellation);
        var assembly = evaluated.Values["TargetPath"];
        return evaluated.Values["OutputType"] is "Exe" or "WinExe"
            ? new BuildOutcome { Assembly = assembly, Log = log }
            : new BuildOutcome
            {
                IsWrongUse = true,
                Log = log,
                Errors = [$"{Path.GetFileName(project)} is a library and cannot be started; set <OutputType>Exe</OutputType> and end its Main with: return await Studies.RunAsync(args, …);"],
            };
    }

    // A project for several frameworks is measured on the newest of them.
    private static async Task<(string? Framework, FinishedCommand Evaluation)> ChooseFrameworkAsync(
        string project, string[] properties, CancellationToken cancellation)
    {
        var (values, evaluation) = await PropertiesAsync(project, ["TargetFramework", "TargetFrameworks"], properties, cancellation);
        if (evaluation.ExitCode != 0 || values["TargetFramework"].Length > 0)
        {
            return (null, evaluation);
        }

        var newest = values["TargetFrameworks"]
            .Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            .OrderBy(framework => Version.TryParse(VersionInFramework().Match(framework).Value, out var version) ? version : new Version(0, 0))
            .LastOrDefault();
        return (newest, evaluation);
    }

    private static async Task<(Dictionary<string, string> Values, FinishedCommand Evaluation)> PropertiesAsync(
        string project, string[] names, string[] properties, CancellationToken cancellation)
    {
        var arguments = (string[])["build", project, "-nologo", .. properties, .. names.Select(name => $"-getProperty:{name}")];
        var evaluation = await DotnetCommand.RunAsync(arguments, cancellation);
        var values = names.ToDictionary(name => name, _ => "");
        if (evaluation.ExitCode == 0)
        {
            using var json = JsonDocument.Parse(evaluation.Output);
            foreach (var name in names)
            {
                values[name] = json.RootElement.GetProperty("Properties").GetProperty(name).GetString() ?? "";
            }
        }

        return (values, evaluation);
    }

    // The compiler's own words, without the project that every line repeats at its end.
    private static List<string> Errors(string output, string project)
    {
        var folder = Path.GetDirectoryName(project) + Path.DirectorySeparatorChar;
        var errors = output.Split('\n')
            .Where(line => ErrorInLine().IsMatch(line))
            .Select(line => ProjectAtEnd().Replace(line.Trim(), "").Replace(folder, "", StringComparison.Ordinal))
            .Distinct()
            .ToList();
        return errors.Count switch
        {
            0 => [.. output.Split('\n', StringSplitOptions.RemoveEmptyEntries).TakeLast(MostErrors)],
            > MostErrors => [.. errors.Take(MostErrors), FormattableString.Invariant($"… and {errors.Count - MostErrors} more")],
            _ => errors,
        };
    }

    private static string Key(string project)
    {
        var hash = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(project)));
        return $"{Path.GetFileNameWithoutExtension(project)}-{hash[..12]}";
    }

    [GeneratedRegex(@"\d+\.\d+")]
    private static partial Regex VersionInFramework();

    [GeneratedRegex(@"(^|\s|:)error(\s+\w+)?\s*:")]
    private static partial Regex ErrorInLine();

    [GeneratedRegex(@"\s*\[[^\]]*\]$")]
    private static partial Regex ProjectAtEnd();
}
