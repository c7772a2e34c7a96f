using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Tachyscope.Lab.Compilers;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Building;

/// <summary>Builds study projects in Release with the dotnet command, into a folder of ours outside the user's tree.</summary>
public sealed partial class ProjectBuilder
{
    private const int MostErrors = 8;

    // Another builder may make another build of the same recipe.
    private static readonly Guid Builder = typeof(ProjectBuilder).Assembly.ManifestModule.ModuleVersionId;

    private readonly string _cache;

    /// <summary>A builder that keeps its builds in a folder.</summary>
    /// <param name="cache">The folder; made when it is not there.</param>
    public ProjectBuilder(string cache)
    {
        ArgumentNullException.ThrowIfNull(cache);
        _cache = Path.GetFullPath(cache);
    }

    /// <summary>Whether everything is built anew, although nothing changed; false by default.</summary>
    public bool IsRebuilt { get; init; }

    /// <summary>Where builds are kept unless the environment variable TACHYSCOPE_CACHE names another folder.</summary>
    public static string DefaultCache
        => Environment.GetEnvironmentVariable("TACHYSCOPE_CACHE") is { Length: > 0 } chosen
            ? chosen
            : Path.Combine(
                Environment.GetFolderPath(Environment.SpecialFolder.LocalApplicationData, Environment.SpecialFolderOption.DoNotVerify), "tachyscope");

    /// <summary>Builds a project as it is, or takes an assembly as it is.</summary>
    /// <param name="path">A project folder, a project, a single .cs file or a built .dll.</param>
    /// <param name="cancellation">Ends the build.</param>
    public Task<BuildOutcome> BuildAsync(string path, CancellationToken cancellation) => BuildAsync(path, new Target { Name = "" }, cancellation);

    /// <summary>Builds a project as a target asks, or takes an assembly as it is.</summary>
    /// <param name="path">A project folder, a project, a single .cs file or a built .dll.</param>
    /// <param name="target">The target.</param>
    /// <param name="cancellation">Ends the build.</param>
    public async Task<BuildOutcome> BuildAsync(string path, Target target, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(path);
        ArgumentNullException.ThrowIfNull(target);
        var (project, problem) = ProjectPath.Find(path);
        if (project is null)
        {
            return new BuildOutcome { IsWrongUse = true, Errors = [problem!] };
        }

        if (project.IsAssembly)
        {
            return AsItIs(project.FullPath, target);
        }

        var builds = Path.Combine(_cache, "builds");
        using var folder = await BuildFolder.TakeAsync(Path.Combine(builds, Key(project.FullPath, target)), cancellation);
        if (!IsRebuilt && BuildStamp.Read(folder.Path) is { } stamp && stamp.IsFresh(project.FullPath, folder.Path))
        {
            return stamp.Outcome;
        }

        var built = await BuildAsync(project.FullPath, folder.Path, target, cancellation);
        var inputs = BuildInputs.Find(project.FullPath, folder.Path, []);
        // What was written while the build was at it may have gone in or not.
        if (built.Assembly is not null && inputs.TrueForAll(input => input.Ticks <= folder.TakenTicks))
        {
            new BuildStamp { Inputs = inputs, Outcome = built }.Write(folder.Path);
        }

        BuildFolder.Prune(builds);
        return built;
    }

    private async Task<BuildOutcome> BuildAsync(string project, string artifacts, Target target, CancellationToken cancellation)
    {
        var log = Path.Combine(artifacts, "build.log");
        // A single file is meant for ahead-of-time publishing unless told otherwise, and then no loop could be emitted.
        string[] single = Path.GetExtension(project) == ".cs" && !target.IsAheadOfTime ? ["-p:PublishAot=false"] : [];
        string[] common = [.. single, "-p:Configuration=Release", $"-p:ArtifactsPath={artifacts}", "-p:UseArtifactsOutput=true", "-p:TachyscopeFromTool=true"];
        var (framework, evaluation) = await ChooseFrameworkAsync(project, common, target, cancellation);
        if (evaluation.ExitCode != 0)
        {
            await File.WriteAllTextAsync(log, evaluation.Output, cancellation);
            return new BuildOutcome { Errors = Errors(evaluation.Output, project), Log = log };
        }

        var compiler = target.Compiler is null ? new CompilerOutcome(null, null) : await new CompilerShelf(_cache).FindAsync(target.Compiler, cancellation);
        if (compiler.Problem is not null)
        {
            return new BuildOutcome { Errors = [compiler.Problem], IsWrongUse = compiler.IsWrongUse };
        }

        var recipe = new BuildRecipe(target, project, framework, compiler.Program);
        string[] chosen = [.. common, .. recipe.Arguments(artifacts)];
        var build = await ShellCommand.DotnetAsync([recipe.IsPublished ? "publish" : "build", project, "-nologo", "-tl:off", "-v:m", "-clp:NoSummary", .. chosen], cancellation);
        await File.WriteAllTextAsync(log, build.Output, cancellation);
        if (target.Packages.Count > 0 && await PackageCheck.ProblemAsync(target, project, artifacts, cancellation) is { } problem)
        {
            return new BuildOutcome { Errors = [problem], IsWrongUse = true, Log = log };
        }

        return build.ExitCode == 0
            ? await AssemblyAsync(project, chosen, recipe, log, cancellation)
            : new BuildOutcome { Errors = Errors(build.Output, project), Log = log };
    }

    // Whatever asks for another build cannot be had from a finished one.
    private static BuildOutcome AsItIs(string assembly, Target target)
        => target with { Name = "", Runtime = null, Switches = target.Switches } is var rest
            && (rest.Framework ?? rest.Language ?? rest.Compiler ?? rest.Revision ?? rest.Folder) is null
            && rest is { IsAheadOfTime: false, IsReadyToRun: false, IsTrimmed: false, IsOptimized: true, Defines.Count: 0, Properties.Count: 0, Packages.Count: 0 }
            ? new BuildOutcome { Assembly = assembly, Compiler = CompilerStamp.Of(assembly) }
            : new BuildOutcome { IsWrongUse = true, Errors = [$"{Path.GetFileName(assembly)} is built already, so that only runtime= and switch: can be chosen for it; name its project to build it otherwise."] };

    private static async Task<BuildOutcome> AssemblyAsync(string project, string[] properties, BuildRecipe recipe, string log, CancellationToken cancellation)
    {
        var evaluated = await PropertiesAsync(project, ["TargetPath", "OutputType", "TargetFramework", "PublishDir", "AssemblyName", "TargetFileName"], properties, cancellation);
        var published = Path.Combine(Path.GetDirectoryName(project)!, evaluated.Values["PublishDir"]);
        var program = Path.Combine(published, evaluated.Values["AssemblyName"] + (OperatingSystem.IsWindows() ? ".exe" : ""));
        return evaluated.Values["OutputType"] is "Exe" or "WinExe"
            ? new BuildOutcome
            {
                Assembly = recipe.IsProgram ? program : recipe.IsPublished ? Path.Combine(published, evaluated.Values["TargetFileName"]) : evaluated.Values["TargetPath"],
                IsProgram = recipe.IsProgram,
                Framework = evaluated.Values["TargetFramework"],
                Compiler = CompilerStamp.Of(evaluated.Values["TargetPath"]),
                Log = log,
            }
            : new BuildOutcome
            {
                IsWrongUse = true,
                Log = log,
                Errors = [$"{Path.GetFileName(project)} is a library and cannot be started; set <OutputType>Exe</OutputType> and end its Main with: return await Studies.RunAsync(args, …);"],
            };
    }

    // The newest of the project's frameworks that the target's runtime can run; where it has none, that runtime's own.
    private static async Task<(string? Framework, FinishedCommand Evaluation)> ChooseFrameworkAsync(
        string project, string[] properties, Target target, CancellationToken cancellation)
    {
        var (values, evaluation) = await PropertiesAsync(project, ["TargetFramework", "TargetFrameworks"], properties, cancellation);
        if (evaluation.ExitCode != 0 || target.Framework is not null)
        {
            return (target.Framework, evaluation);
        }

        var named = (values["TargetFrameworks"].Length > 0 ? values["TargetFrameworks"] : values["TargetFramework"])
            .Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        var most = target.Runtime is { } runtime ? VersionOf(runtime) : new Version(int.MaxValue, 0);
        return named.Where(framework => VersionOf(framework) <= most).MaxBy(VersionOf) is { } newest
            ? (newest, evaluation)
            : (target.Runtime is null ? null : FormattableString.Invariant($"net{most.Major}.{most.Minor}"), evaluation);
    }

    private static Version VersionOf(string framework)
        => Version.TryParse(VersionInFramework().Match(framework).Value, out var version) ? version : new Version(0, 0);

    private static async Task<(Dictionary<string, string> Values, FinishedCommand Evaluation)> PropertiesAsync(
        string project, string[] names, string[] properties, CancellationToken cancellation)
    {
        var arguments = (string[])["build", project, "-nologo", .. properties, .. names.Select(name => $"-getProperty:{name}")];
        var evaluation = await ShellCommand.DotnetAsync(arguments, cancellation);
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

    // One folder for every project and recipe, so that builds of two targets never meet.
    private static string Key(string project, Target target)
    {
        var hash = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(project + Builder + JsonSerializer.Serialize(target with { Name = "", Runtime = target.Framework is null ? target.Runtime : null, Switches = new Dictionary<string, string>() }))));
        return $"{Path.GetFileNameWithoutExtension(project)}-{hash[..12]}";
    }

    [GeneratedRegex(@"\d+\.\d+")]
    private static partial Regex VersionInFramework();

    [GeneratedRegex(@"(^|\s|:)error(\s+\w+)?\s*:")]
    private static partial Regex ErrorInLine();

    [GeneratedRegex(@"\s*\[[^\]]*\]$")]
    private static partial Regex ProjectAtEnd();
}
