using System.ComponentModel;
using Tachyscope.Lab.Building;
using Tachyscope.Lab.StudyFiles;
using Tachyscope.Lab.Workers;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Targets;

/// <summary>Makes targets ready: takes their revision, finds their runtime, builds them.</summary>
public sealed class TargetWorkshop
{
    private readonly ProjectBuilder _builder;
    private readonly RuntimeRoots _runtimes;
    private readonly Revisions _revisions;

    /// <summary>A workshop that keeps builds, runtimes and revisions in a folder.</summary>
    /// <param name="cache">The folder; made when it is not there.</param>
    /// <param name="isRebuilt">Whether everything is built anew, although nothing changed.</param>
    public TargetWorkshop(string cache, bool isRebuilt = false)
    {
        _builder = new ProjectBuilder(cache) { IsRebuilt = isRebuilt };
        _runtimes = new RuntimeRoots(cache);
        _revisions = new Revisions(cache);
    }

    /// <summary>Whether workers of its targets optimise at the runtime's own pace; false by default.</summary>
    public bool IsPaceKept { get; init; }

    /// <summary>Makes a target ready.</summary>
    /// <param name="project">A project folder, a project, a single .cs file or a built .dll.</param>
    /// <param name="target">The target.</param>
    /// <param name="cancellation">Ends it early; nothing half is left behind.</param>
    public async Task<PreparedTarget> PrepareAsync(string project, Target target, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(project);
        ArgumentNullException.ThrowIfNull(target);
        try
        {
            return await TryPrepareAsync(project, target, cancellation);
        }
        catch (Win32Exception exception)
        {
            return new PreparedTarget(
                target, null, [$"the dotnet command could not be started ({exception.Message}); install the .NET SDK, or put its folder "
                    + "into PATH."]);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return new PreparedTarget(
                target, null, [$"it could not be made ready, since a file or folder could not be used: {exception.Message}"]);
        }
    }

    // Nothing of it is built here: its guests are, once they are met.
    private static async Task<PreparedTarget> OfGuestsAsync(string path, Target target, CodeState code, CancellationToken cancellation)
    {
        var isPlain = target is
        {
            Runtime: null, Framework: null, IsAheadOfTime: false, IsReadyToRun: false, IsTrimmed: false, Instructions: null, Language: null,
            Compiler: null, IsOptimized: true, Switches.Count: 0, Defines.Count: 0, Properties.Count: 0, Packages.Count: 0,
        };
        if (!isPlain)
        {
            return new PreparedTarget(
                target,
                null,
                [$"{path} is a study of guests, which has no runtime and no compiler of its own; leave out --target, and name them in its "
                    + "builds."],
                IsWrongUse: true);
        }

        var (file, problems) = StudyFile.Read(path);
        return file is null
            ? new PreparedTarget(target, null, problems, IsWrongUse: true)
            : new PreparedTarget(target, new StudyFileStarter(file), [])
            {
                Code = code with { Stamp = BuildCache.NameOf(await File.ReadAllTextAsync(path, cancellation)) },
            };
    }

    private async Task<PreparedTarget> TryPrepareAsync(string project, Target target, CancellationToken cancellation)
    {
        var path = target.Folder ?? project;
        var code = new CodeState();
        if (target.Revision is { } revision)
        {
            var taken = await _revisions.TakeAsync(project, revision, target.Study, cancellation);
            if (taken.Path is null)
            {
                return new PreparedTarget(target, null, [taken.Problem!], IsWrongUse: true);
            }

            path = taken.Path;
            code = code with { Commit = taken.Commit };
        }
        else
        {
            code = await Revisions.StateAsync(path, cancellation);
        }

        if (StudyFile.Find(path) is { } file)
        {
            return await OfGuestsAsync(file, target, code, cancellation);
        }

        FoundRuntime? runtime = null;
        if (target.Runtime is { } wish)
        {
            var found = await _runtimes.FindAsync(wish, cancellation);
            if (found.Runtime is null)
            {
                return new PreparedTarget(target, null, [found.Problem!], found.IsWrongUse);
            }

            runtime = found.Runtime;
        }

        var built = await _builder.BuildAsync(path, target, cancellation);
        if (built.Assembly is null)
        {
            return new PreparedTarget(target, null, built.Errors, built.IsWrongUse, built.Log);
        }

        var starter = new WorkerStarter(built.Assembly, runtime?.Host, runtime?.Version)
        {
            IsProgram = built.IsProgram,
            Switches = target.Switches,
            IsPaceKept = IsPaceKept,
        };
        return new PreparedTarget(target, starter, [], Log: built.Log)
        {
            Compiler = built.Compiler,
            Code = code with { Stamp = CodeStamp.Of(built.Assembly) },
            IsNewlyBuilt = built.IsNew,
            Lease = built.Lease,
        };
    }
}
