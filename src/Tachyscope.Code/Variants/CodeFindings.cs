using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Variants;

/// <summary>What can be told of the code of a study's variants by comparing it.</summary>
public sealed record CodeFindings
{
    /// <summary>Groups of two and more variants of one target that are the same code, each in the order of the study.</summary>
    public required IReadOnlyList<IReadOnlyList<VariantCode>> Same { get; init; }

    /// <summary>Variants on a target beside the first, and how each stands to itself there.</summary>
    public required IReadOnlyList<(VariantCode First, VariantCode Other, CodeRelation Relation)> Across { get; init; }

    /// <summary>Variants whose operation was computed when it was compiled.</summary>
    public required IReadOnlyList<VariantCode> FoldedAway { get; init; }

    /// <summary>Compares the code of a study's variants.</summary>
    /// <param name="codes">The variants, target by target, those of the first target first.</param>
    public static CodeFindings Of(IReadOnlyList<VariantCode> codes)
    {
        ArgumentNullException.ThrowIfNull(codes);
        var targets = codes.GroupBy(code => code.Target, StringComparer.Ordinal).ToList();
        return new CodeFindings
        {
            Same = [.. targets.SelectMany(target => Groups([.. target]))],
            Across =
            [
                .. from target in targets.Skip(1)
                   from other in target
                   let first = targets[0].FirstOrDefault(code => code.Name == other.Name)
                   where first is not null
                   select (first, other, Between(first, other)),
            ],
            FoldedAway = [.. codes.Where(code => code.Facts is { IsFoldedAway: true })],
        };
    }

    /// <summary>How two codes stand to each other.</summary>
    /// <param name="one">A variant on a target.</param>
    /// <param name="other">Another, or the same on another target.</param>
    public static CodeRelation Between(VariantCode one, VariantCode other)
    {
        ArgumentNullException.ThrowIfNull(one);
        ArgumentNullException.ThrowIfNull(other);
        var isSameProcess = one.Target == other.Target;
        var isSameIl = one.Methods.Count > 0 && one.Methods.Count == other.Methods.Count
            && one.Methods.Zip(other.Methods).All(pair => pair.First.Il.SequenceEqual(pair.Second.Il, StringComparer.Ordinal));
        // Between processes addresses tell nothing, so that what lies there may differ unless the compiler was told the same.
        var isSame = one is { Tree: { } tree, Facts: not null } && other is { Tree: { } otherTree, Facts: not null }
            && (isSameProcess || isSameIl)
            && NormalForm.AreSame(tree, otherTree, isSameProcess);
        return isSame ? CodeRelation.Same : isSameIl ? CodeRelation.SameIl : CodeRelation.Different;
    }

    private static IEnumerable<IReadOnlyList<VariantCode>> Groups(List<VariantCode> codes)
    {
        HashSet<VariantCode> told = new(ReferenceEqualityComparer.Instance);
        foreach (var (index, code) in codes.Index())
        {
            // One method at two settings is the same code by its making.
            var same = told.Contains(code) ? []
                : codes.Skip(index + 1).Where(other => other.Operation != code.Operation && Between(code, other) == CodeRelation.Same)
                    .ToList();
            if (same.Count > 0)
            {
                told.UnionWith([code, .. same]);
                yield return [code, .. same];
            }
        }
    }
}
