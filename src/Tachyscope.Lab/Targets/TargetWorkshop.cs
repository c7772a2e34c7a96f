using System.ComponentModel;
using Tachyscope.Lab.Building;
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
                target, null, [$"the dotnet command could not be started ({exception.Message}); install the .NET SDK, or put its folder into PATH."]);
        }
        catch (Exception exception) when (exception is IOException or UnauthorizedAccessException)
        {
            return new PreparedTarget(
                target, null, [$"it could not be made ready, since a file or folder could not be used: {exception.Message}"]);
        }
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
