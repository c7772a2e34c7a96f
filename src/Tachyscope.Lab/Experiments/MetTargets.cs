using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>What the workers of a run's targets said of themselves and of their studies.</summary>
/// <param name="Names">Names of the targets.</param>
/// <param name="Hellos">How each introduced itself.</param>
/// <param name="Studies">What each holds.</param>
internal sealed record MetTargets(IReadOnlyList<string> Names, IReadOnlyList<HelloReply> Hellos, IReadOnlyList<IReadOnlyList<StudyDescription>> Studies)
{
    public int Count => Hellos.Count;

    /// <summary>Processors that all may use.</summary>
    public IReadOnlyList<int> Processors { get; } = [.. Hellos.Select(hello => (IEnumerable<int>)hello.Environment.Processors).Aggregate((all, next) => all.Intersect(next))];

    /// <summary>The targets as the run keeps them; none when there is but one.</summary>
    public IReadOnlyList<TargetDescription> Descriptions => Count == 1 ? [] : [.. Names.Zip(Hellos, (name, hello) => new TargetDescription(name, hello.Environment))];

    /// <summary>Cells of a study that targets do not have.</summary>
    public IEnumerable<CellFailure> Missing(StudyDescription study)
        => from target in Enumerable.Range(1, Count - 1)
           let there = Studies[target].FirstOrDefault(other => other.Name == study.Name)?.Variants.Select(row => row.Name).ToHashSet() ?? []
           from variant in Enumerable.Range(0, study.Variants.Count)
           where !there.Contains(study.Variants[variant].Name)
           from input in Enumerable.Range(0, study.Inputs.Count)
           select new CellFailure { Variant = variant, Input = input, Target = target, Kind = CellFailureKind.Missing, Reason = $"{Names[target]} has no such variant" };
}
