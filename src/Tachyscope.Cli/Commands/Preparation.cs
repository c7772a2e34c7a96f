using System.Globalization;
using Tachyscope.Lab.Experiments;
using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Storing;
using Tachyscope.Lab.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Commands;

/// <summary>Makes targets ready for whoever measures, shows that it is at it, and words what could not be made.</summary>
/// <param name="around">The tool's surroundings.</param>
/// <param name="display">Who watches.</param>
/// <param name="isRebuilt">Whether everything is built anew.</param>
internal sealed class Preparation(Surroundings around, RunDisplay display, bool isRebuilt)
{
    private static readonly TimeSpan WorthTelling = TimeSpan.FromSeconds(1);

    private TargetWorkshop? _workshop;

    /// <summary>Whether workers optimise at the runtime's own pace.</summary>
    public bool IsPaceKept { get; init; }

    /// <summary>Makes one ready, or says in it why it cannot be.</summary>
    public Task<PreparedTarget> MakeAsync(string project, Target target, CancellationToken cancellation)
    {
        _workshop ??= new TargetWorkshop(around.Cache, isRebuilt) { IsPaceKept = IsPaceKept };
        return display.WhileBuildingAsync(target.Name.Length == 0 ? project : $"{project} for {target.Name}",
            () => _workshop.PrepareAsync(project, target, cancellation));
    }

    /// <summary>Makes all ready, the project as it is where there are none; tells why one cannot be and stops there.</summary>
    /// <param name="prepared">Where they go; the caller disposes them, whatever happens.</param>
    /// <param name="project">The project.</param>
    /// <param name="targets">The targets.</param>
    /// <param name="cancellation">Ends it early.</param>
    /// <returns>The exit code where one cannot be had; null otherwise.</returns>
    public async Task<int?> FillAsync(
        List<PreparedTarget> prepared, string project, IReadOnlyList<Target> targets, CancellationToken cancellation)
    {
        foreach (var target in targets.DefaultIfEmpty(new Target { Name = "" }))
        {
            prepared.Add(await MakeAsync(project, target, cancellation));
            if (prepared[^1].Starter is null)
            {
                return await ComplainAsync(project, prepared[^1]);
            }
        }

        return null;
    }

    /// <summary>Tells how long builds took; building is not measuring, and takes nothing of the time allowed.</summary>
    public void SayWhatWasBuilt(IReadOnlyList<PreparedTarget> targets, TimeSpan took)
    {
        var built = targets.Count(target => target.IsNewlyBuilt);
        if (built > 0 && took >= WorthTelling)
        {
            SayBuilt(built == 1 && targets.Count == 1 ? "" : $" {built} target{(built == 1 ? "" : "s")}", took);
        }
    }

    /// <summary>Tells where two sides, of which one is a revision, are no two.</summary>
    public void SayWhatIsTheSame(IReadOnlyList<PreparedTarget> sides)
    {
        if (sides is [{ Code.Stamp: { } old } one, { Code.Stamp: { } now } other] && old == now
            && (one.Target.Revision ?? other.Target.Revision) is not null)
        {
            display.Say($"{one.Target.Name} and {other.Target.Name} compile to the same code: what they differ by is not its doing");
        }
    }

    /// <summary>Tells how long building guests took, which are built once the studies that name them are known.</summary>
    public void SayWhatWasBuilt(GuestWorkshop guests)
    {
        if (guests.NewlyBuilt > 0 && guests.BuildingTook >= WorthTelling)
        {
            SayBuilt($" {guests.NewlyBuilt} guest{(guests.NewlyBuilt == 1 ? "" : "s")}", guests.BuildingTook);
        }
    }

    private void SayBuilt(string what, TimeSpan took)
        => display.Say(string.Create(CultureInfo.InvariantCulture, $"built{what} in {took.TotalSeconds:0} s, kept for the next run"));

    /// <summary>Tells why a target cannot be measured.</summary>
    /// <returns>The exit code.</returns>
    public Task<int> ComplainAsync(string project, PreparedTarget target)
    {
        var name = target.Target.Name;
        return target.Log is null || target.IsWrongUse
            ? around.ComplainAsync(target.Errors.Select(error => name.Length == 0 ? error : $"{name}: {error}"),
                target.IsWrongUse ? ExitCode.WrongUse : ExitCode.CouldNotRun)
            : around.ComplainAsync(
                [
                    $"{project} does not build{(name.Length == 0 ? "" : $" for {name}")}:",
                    .. target.Errors.Select(error => $"  {error}"),
                    $"the whole output is in {target.Log}",
                ], ExitCode.CouldNotRun);
    }

    /// <summary>Builds the guests of a project's studies.</summary>
    /// <param name="project">The project; guests are named from its folder.</param>
    public GuestWorkshop Guests(string project) => new(around.Cache, project, isRebuilt);

    /// <summary>An experiment on prepared targets, as far as it is the same for all.</summary>
    public ExperimentSurroundings Surroundings(IProgress<RunProgress>? progress)
    {
        var machine = Surveyor.Describe();
        var gauges = new GaugeFile(around.Cache, machine);
        return new ExperimentSurroundings
        {
            Clock = around.Clock, Machine = machine, Limits = LimitsFile.Find(around.Cache, machine),
            Gauges = gauges, QuietCallCycles = gauges.QuietCallCycles, Tool = Tool.Version, Progress = progress,
        };
    }
}
