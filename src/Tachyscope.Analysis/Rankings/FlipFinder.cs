using System.Globalization;
using Tachyscope.Analysis.Contrasts;
using Tachyscope.Analysis.Findings;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Rankings;

/// <summary>Finds variants whose order is not the same everywhere.</summary>
public static class FlipFinder
{
    /// <summary>The order over a study's inputs and numbers of threads.</summary>
    internal static Flip? Find(StudyDescription study, IReadOnlyList<InputFindings> inputs)
        => Find(inputs.SelectMany(input => Verdicts(study, input, input.Input.Label)), study.Variants);

    /// <summary>The order over the members of a family, one for each element type.</summary>
    /// <param name="members">What was found of each.</param>
    /// <returns>The pair of variants that turns round with most at stake; null when none does.</returns>
    public static Flip? Find(IReadOnlyList<StudyFindings> members)
    {
        ArgumentNullException.ThrowIfNull(members);
        return members.Count == 0 ? null : Find(
            members.SelectMany(member => member.Inputs.SelectMany(input => Verdicts(member.Study, input,
                $"{member.Study.Element}, {input.Input.Label}"))),
            members[0].Study.Variants);
    }

    // A row on several threads is the same variant elsewhere.
    private static IEnumerable<(string Variant, string Other, string Place, PairContrast Pair)> Verdicts(StudyDescription study,
        InputFindings input, string place)
        => input.Pairs.Where(pair => pair.Verdict is Verdict.Faster or Verdict.Slower).Select(pair => (
            Named(study.Variants[pair.Row]),
            Named(study.Variants[pair.Other]),
            study.Variants[pair.Row].Loop.Threads is { } threads
                ? string.Create(CultureInfo.InvariantCulture, $"{place} with {threads} thread{(threads == 1 ? "" : "s")}")
                : place,
            pair));

    private static string Named(VariantDescription row)
        => row.Loop.Threads is null ? row.Name : row.Name[..row.Name.LastIndexOf(',')];

    private static Flip? Find(IEnumerable<(string Variant, string Other, string Place, PairContrast Pair)> verdicts,
        IReadOnlyList<VariantDescription> variants)
    {
        var turning = verdicts.GroupBy(verdict => (verdict.Variant, verdict.Other))
            .Where(pair => pair.Any(verdict => verdict.Pair.Verdict == Verdict.Faster)
                && pair.Any(verdict => verdict.Pair.Verdict == Verdict.Slower))
            .ToList();
        if (turning.Count == 0)
        {
            return null;
        }

        // What matters most: the pair of which either choice costs dearly somewhere; the baseline's before others that are as dear.
        var most = turning.OrderByDescending(AtStake)
            .ThenByDescending(pair => variants.Any(row => row.IsBaseline && row.Name == pair.Key.Other)).First();
        string[] At(Verdict asked) => [.. most.Where(verdict => verdict.Pair.Verdict == asked).Select(verdict => verdict.Place)];
        return new Flip(most.Key.Variant, most.Key.Other, At(Verdict.Faster), At(Verdict.Slower), turning.Count);
    }

    private static double AtStake(IEnumerable<(string Variant, string Other, string Place, PairContrast Pair)> pair)
    {
        var logs = pair.Select(verdict => Math.Log(verdict.Pair.TimeRatio.Estimate)).ToList();
        return Math.Min(-logs.Min(), logs.Max());
    }
}
