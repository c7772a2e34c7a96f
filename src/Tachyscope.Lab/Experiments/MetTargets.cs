using Tachyscope.Lab.Guests;
using Tachyscope.Lab.Machines;
using Tachyscope.Lab.Sittings;
using Tachyscope.Lab.Targets;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>
/// What the workers of a run's targets said of themselves and of their studies; studies, rows and inputs are matched by name.
/// </summary>
/// <param name="Targets">The targets.</param>
/// <param name="Hellos">How each introduced itself.</param>
/// <param name="Studies">What each holds, described in full.</param>
/// <param name="Effects">Runtime switches of each, and whether their effect was seen.</param>
/// <param name="Guests">The guests of all studies that are measured.</param>
/// <param name="Around">The machine, and which of its processors are alike.</param>
internal sealed record MetTargets(
    IReadOnlyList<PreparedTarget> Targets,
    IReadOnlyList<HelloReply> Hellos,
    IReadOnlyList<IReadOnlyList<StudyDescription>> Studies,
    IReadOnlyList<IReadOnlyList<SwitchState>> Effects,
    IReadOnlyList<MetGuest> Guests,
    ExperimentSurroundings Around)
{
    public int Count => Hellos.Count;

    /// <summary>Processors that all may use and that are alike.</summary>
    public IReadOnlyList<int> Processors { get; } =
        Around.ProcessorsAlike([.. Hellos
            .Select(hello => (IEnumerable<int>)hello.Environment.Processors)
            .Aggregate((all, next) => all.Intersect(next))]);

    /// <summary>What the gauge reads on each target, and then in each guest, when the core is ours alone.</summary>
    public QuietCore Quiet { get; } = new(
        [.. Hellos.Select(hello => hello.Environment), .. Guests.Select(guest => guest.Environment ?? Hellos[0].Environment)],
            Around.Gauges);

    /// <summary>Workers that can be busy at once: as many as there are processors, and no more than the system gives time for.</summary>
    public int AtOnce => Math.Min(Processors.Count, Around.Machine.ProcessorQuota is { } quota ? Math.Max(1, (int)quota) : int.MaxValue);

    /// <summary>
    /// Every study that a target has: as the first that has it describes it, with the rows and inputs that only others have behind its own.
    /// </summary>
    public IReadOnlyList<StudyDescription> All
        => [.. Studies.SelectMany(held => held).GroupBy(study => study.Name).Select(same => same.Aggregate(Joined))];

    /// <summary>The targets as the run keeps them; none when there is but one, without a name.</summary>
    public IReadOnlyList<TargetDescription> Descriptions
        => Count == 1 && Targets[0].Target.Name.Length == 0 ? [] : [.. Targets.Select((target, index) => new TargetDescription
        {
            Name = target.Target.Name,
            Environment = Hellos[index].Environment,
            Compiler = target.Compiler,
            Commit = target.Code.Commit,
            IsDirty = target.Code.IsDirty,
            Switches = Effects[index],
        })];

    /// <summary>Whether a target has a study.</summary>
    public bool Has(string study, int target) => Studies[target].Any(own => own.Name == study);

    /// <summary>Index of the guest that a row of a study lives in; null where none was met.</summary>
    public int? GuestOf(string study, string row)
        => Enumerable.Range(0, Guests.Count).Where(guest => Guests[guest].Study == study && Guests[guest].Row.Name == row)
            .Select(guest => (int?)guest).FirstOrDefault();

    /// <summary>Where a target has the rows and inputs of a study.</summary>
    public StudyPlace Place(StudyDescription study, int target)
        => new(study, Studies[target].FirstOrDefault(own => own.Name == study.Name) ?? study with { Variants = [], Inputs = [] });

    /// <summary>Cells of a study that targets do not have.</summary>
    public IEnumerable<CellFailure> Missing(StudyDescription study)
        => from target in Enumerable.Range(0, Count)
           let place = Place(study, target)
           from variant in Enumerable.Range(0, study.Variants.Count)
           from input in Enumerable.Range(0, study.Inputs.Count)
           where place.Row(variant) is null || place.Input(input) is null
           select new CellFailure
           {
               Variant = variant,
               Input = input,
               Target = target,
               Kind = CellFailureKind.Missing,
               Reason = $"{Targets[target].Target.Name} has no such {(place.Row(variant) is null ? "variant" : "input")}",
           };

    // A second baseline would leave open which of them others are compared with.
    private static StudyDescription Joined(StudyDescription one, StudyDescription other)
    {
        var (rows, inputs) = (one.Variants.Select(row => row.Name).ToHashSet(), one.Inputs.Select(input => input.Label).ToHashSet());
        return one with
        {
            Variants = [.. one.Variants, .. other.Variants.Where(row => !rows.Contains(row.Name))
                .Select(row => row with { IsBaseline = false })],
            Inputs = [.. one.Inputs, .. other.Inputs.Where(input => !inputs.Contains(input.Label))],
        };
    }
}
