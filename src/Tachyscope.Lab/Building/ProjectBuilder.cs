using System.Runtime.InteropServices;
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

    /// <summary>Environment variable that names the folder in which builds are kept.</summary>
    public const string CacheVariable = "TACHYSCOPE_CACHE";

    /// <summary>Where builds are kept, unless <see cref="CacheVariable"/> says where; empty where the system knows no such place.</summary>
    public static string DefaultCache
    {
        get
        {
            if (Environment.GetEnvironmentVariable(CacheVariable) is { Length: > 0 } chosen)
            {
                return chosen;
            }

            var local = Environment.GetFolderPath(Environment.SpecialFolder.LocalApplicationData, Environment.SpecialFolderOption.DoNotVerify);
            return local.Length == 0 ? "" : Path.Combine(local, "tachyscope");
        }
    }

    /// <summary>Looks whether builds and temporary files can be kept.</summary>
    /// <param name="cache">Folder of the builds.</param>
    /// <returns>What is wrong, in a sentence with the way out; null when nothing is.</returns>
    public static string? ProblemOf(string cache)
    {
        ArgumentNullException.ThrowIfNull(cache);
        if (cache.Length == 0)
        {
            return $"there is no home folder to keep builds in (HOME is not set); set it, or name a folder with {CacheVariable}.";
        }

        var temporary = Path.GetTempPath();
        if (!Directory.Exists(temporary))
        {
            return $"the folder for temporary files, {temporary}, does not exist; make it, or set TMPDIR to one that does.";
        }

        if (Unwritable(cache) is { } reason)
        {
            return $"builds cannot be kept in {cache} ({reason}); name a folder that can be written with {CacheVariable}.";
        }

        return Unwritable(temporary) is { } why
            ? $"nothing can be written to the folder for temporary files, {temporary} ({why}); set TMPDIR to one that can be written."
            : null;
    }

    private static string? Unwritable(string folder)
    {
        try
        {
            Directory.CreateDirectory(folder);
            var probe = Path.Combine(folder, $"probe-{Guid.NewGuid():N}");
            File.Create(probe).Dispose();
            File.Delete(probe);
            return null;
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return exception.Message.TrimEnd('.');
        }
    }

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
        BuildStamp? stamp = null;
        bool IsFresh(string folder)
            => !IsRebuilt && (stamp = BuildStamp.Read(folder)) is not null && stamp.IsFresh(project.FullPath, folder);
        var (taken, isFresh) = await BuildFolder.TakeAsync(Path.Combine(builds, Key(project.FullPath, target)), IsFresh, cancellation);
        using var folder = taken;
        if (isFresh)
        {
            return stamp!.Outcome with { Lease = folder.Lease() };
        }

        var built = await BuildAsync(project.FullPath, folder.Path, target, cancellation);
        var inputs = BuildInputs.Find(project.FullPath, folder.Path, []);
        // What was written while the build was at it may have gone in or not.
        if (built.Assembly is not null && inputs.TrueForAll(input => input.Ticks <= folder.TakenTicks))
        {
            new BuildStamp { Inputs = inputs, Outcome = built }.Write(folder.Path);
        }

        var leased = built.Assembly is null ? built : built with { Lease = folder.Lease(), IsNew = true };
        BuildFolder.Prune(builds);
        return leased;
    }

    private async Task<BuildOutcome> BuildAsync(string project, string artifacts, Target target, CancellationToken cancellation)
    {
        var compiler = target.Compiler is null ? new CompilerOutcome(null, null) : await new CompilerShelf(_cache).FindAsync(target.Compiler, cancellation);
        if (compiler.Problem is not null)
        {
            return new BuildOutcome { Errors = [compiler.Problem], IsWrongUse = compiler.IsWrongUse };
        }

        var recipe = new BuildRecipe(target, project, compiler.Program);
        // What an earlier build told may not be true of this one.
        if (Directory.Exists(BuildRecipe.Told(artifacts)))
        {
            Directory.Delete(BuildRecipe.Told(artifacts), recursive: true);
        }

        // A single file is meant for ahead-of-time publishing unless told otherwise, and then no loop could be emitted.
        string[] single = Path.GetExtension(project) == ".cs" && !target.IsAheadOfTime ? ["-p:PublishAot=false"] : [];
        string[] command =
        [
            recipe.IsPublished ? "publish" : "build", project, "-nologo", "-tl:off", "-v:m", "-clp:NoSummary",
            .. single, "-p:Configuration=Release", $"-p:ArtifactsPath={artifacts}", "-p:UseArtifactsOutput=true", "-p:TachyscopeFromTool=true",
            .. recipe.Arguments(artifacts),
        ];
        var build = await ShellCommand.DotnetInAsync(Path.GetDirectoryName(project), command, [("MSBUILDLOGIMPORTS", "1")], cancellation);
        var log = Path.Combine(artifacts, "build.log");
        await File.WriteAllTextAsync(log, build.All, cancellation);
        if (target.Packages.Count > 0 && await PackageCheck.ProblemAsync(target, project, artifacts, cancellation) is { } problem)
        {
            return new BuildOutcome { Errors = [problem], IsWrongUse = true, Log = log };
        }

        return build.ExitCode == 0
            ? Made(project, artifacts, recipe, log)
            : new BuildOutcome { Errors = SdkProblem.In(build) is { } missing ? [missing] : Errors(build.All, project), Log = log };
    }

    // Whatever asks for another build cannot be had from a finished one.
    private static BuildOutcome AsItIs(string assembly, Target target)
        => target with { Name = "", Runtime = null, Switches = target.Switches } is var rest
            && (rest.Framework ?? rest.Language ?? rest.Compiler ?? rest.Revision ?? rest.Folder) is null
            && rest is { IsAheadOfTime: false, IsReadyToRun: false, IsTrimmed: false, IsOptimized: true, Defines.Count: 0, Properties.Count: 0, Packages.Count: 0 }
            ? new BuildOutcome { Assembly = assembly, Compiler = CompilerStamp.Of(assembly) }
            : new BuildOutcome { IsWrongUse = true, Errors = [$"{Path.GetFileName(assembly)} is built already, so that only runtime= and switch: can be chosen for it; name its project to build it otherwise."] };

    private static BuildOutcome Made(string project, string artifacts, BuildRecipe recipe, string log)
    {
        var told = File.ReadLines(Path.Combine(BuildRecipe.Told(artifacts), "outputs"))
            .Select(line => line.Split('=', 2))
            .ToDictionary(pair => pair[0], pair => pair[1]);
        var published = Path.Combine(Path.GetDirectoryName(project)!, told["PublishDir"].Replace('\\', Path.DirectorySeparatorChar));
        var program = Path.Combine(published, told["AssemblyName"] + (OperatingSystem.IsWindows() ? ".exe" : ""));
        return told["OutputType"] is "Exe" or "WinExe"
            ? new BuildOutcome
            {
                Assembly = recipe.IsProgram ? program
                    : recipe.IsPublished ? Path.Combine(published, told["TargetFileName"])
                    : told["TargetPath"],
                IsProgram = recipe.IsProgram,
                Framework = told["TargetFramework"],
                Compiler = CompilerStamp.Of(told["TargetPath"]),
                Log = log,
            }
            : new BuildOutcome
            {
                IsWrongUse = true,
                Log = log,
                Errors = [$"{Path.GetFileName(project)} is a library and cannot be started; set <OutputType>Exe</OutputType> and end its Main with: return await Studies.RunAsync(args, …);"],
            };
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
        var runtime = target.Framework is null ? target.Runtime : null;
        var recipe = target with { Name = "", Runtime = runtime, Switches = new Dictionary<string, string>() };
        // A cache that several machines share holds a build for each kind of them.
        var machine = $"{RuntimeInformation.RuntimeIdentifier} {ProcessorInstructions.Own}";
        var all = string.Join('\n', project, Builder, machine, JsonSerializer.Serialize(recipe));
        var hash = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(all)));
        return $"{Path.GetFileNameWithoutExtension(project)}-{hash[..12]}";
    }

    [GeneratedRegex(@"(^|\s|:)error(\s+\w+)?\s*:")]
    private static partial Regex ErrorInLine();

    [GeneratedRegex(@"\s*\[[^\]]*\]$")]
    private static partial Regex ProjectAtEnd();
}
