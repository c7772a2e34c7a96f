using Tachyscope.Lab.Compilers;
using Tachyscope.Lab.Processes;
using Tachyscope.Lab.Targets;

namespace Tachyscope.Lab.Building;

/// <summary>Builds study projects in Release with the dotnet command, into a folder of ours outside the user's tree.</summary>
public sealed class ProjectBuilder
{
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

    /// <summary>Whether a project that cannot be started is built too; false by default.</summary>
    public bool IsLibraryTaken { get; init; }

    /// <summary>An assembly that may use what is internal to what is built, unless that is signed; none by default.</summary>
    public string? Friend { get; init; }

    /// <summary>Builds a project as it is, or takes an assembly as it is.</summary>
    /// <param name="path">A project folder, a project, a single .cs file or a built .dll.</param>
    /// <param name="cancellation">Ends the build.</param>
    public Task<BuildOutcome> BuildAsync(string path, CancellationToken cancellation)
        => BuildAsync(path, new Target { Name = "" }, cancellation);

    /// <summary>Builds a project as a target asks, or takes an assembly as it is.</summary>
    /// <param name="path">A project folder, a project, a single .cs file or a built .dll.</param>
    /// <param name="target">The target.</param>
    /// <param name="cancellation">Ends the build.</param>
    public async Task<BuildOutcome> BuildAsync(string path, Target target, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(path);
        ArgumentNullException.ThrowIfNull(target);
        target = Friend is null ? target : target with
        {
            Properties = new Dictionary<string, string>(target.Properties) { [BuildRecipe.Friend] = Friend },
        };
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
        var (taken, isFresh) = await BuildFolder.TakeAsync(
            Path.Combine(builds, BuildCache.Key(project.FullPath, target)), IsFresh, cancellation);
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
        var compiler = target.Compiler is null
            ? new CompilerOutcome(null, null)
            : await new CompilerShelf(_cache).FindAsync(target.Compiler, cancellation);
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
            .. single, "-p:Configuration=Release", $"-p:ArtifactsPath={artifacts}", "-p:UseArtifactsOutput=true",
                "-p:TachyscopeFromTool=true",
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
            : new BuildOutcome { Errors = BuildLack.In(build) is { } missing ? [missing] : CompilerWords.Errors(build.All, project),
                Log = log };
    }

    // Whatever asks for another build cannot be had from a finished one.
    private static BuildOutcome AsItIs(string assembly, Target target)
        => target with { Name = "", Runtime = null, Switches = target.Switches } is var rest
            && (rest.Framework ?? rest.Language ?? rest.Compiler ?? rest.Revision) is null
            && rest is { IsAheadOfTime: false, IsReadyToRun: false, IsTrimmed: false, IsOptimized: true, Defines.Count: 0,
                Properties.Count: 0, Packages.Count: 0 }
            ? new BuildOutcome { Assembly = assembly, Compiler = CompilerStamp.Of(assembly) }
            : new BuildOutcome { IsWrongUse = true,
                Errors = [$"{Path.GetFileName(assembly)} is built already, so that only runtime= and switch: can be chosen for it; name "
                    + "its project to build it otherwise."] };

    private BuildOutcome Made(string project, string artifacts, BuildRecipe recipe, string log)
    {
        var told = File.ReadLines(Path.Combine(BuildRecipe.Told(artifacts), "outputs"))
            .Select(line => line.Split('=', 2))
            .ToDictionary(pair => pair[0], pair => pair[1]);
        var published = Path.Combine(Path.GetDirectoryName(project)!, told["PublishDir"].Replace('\\', Path.DirectorySeparatorChar));
        var program = Path.Combine(published, told["AssemblyName"] + (OperatingSystem.IsWindows() ? ".exe" : ""));
        return IsLibraryTaken || told["OutputType"] is "Exe" or "WinExe"
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
                Errors = [$"{Path.GetFileName(project)} is a library and cannot be started; set <OutputType>Exe</OutputType> and end "
                    + "its Main with: return await Studies.RunAsync(args, …);"],
            };
    }
}
