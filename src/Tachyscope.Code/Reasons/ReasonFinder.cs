using Tachyscope.Code.Facts;
using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Reasons;

/// <summary>
/// Names what may make one code slower than another: facts of the part that runs most often that differ in the direction of the time.
/// A reason named is a guess, to be tested; facts do not tell how often anything runs.
/// </summary>
public static class ReasonFinder
{
    // What one of it costs, very roughly, in cycles: an order of weights, not measured here, that the tests' catalogue holds.
    private static readonly (ReasonKind Kind, double Cycles, Func<CodeFacts, int> Count)[] s_catalogue =
    [
        (ReasonKind.Allocations, 20, facts => facts.Allocations),
        (ReasonKind.Atomics, 18, facts => facts.Atomics),
        (ReasonKind.Divisions, 12, facts => facts.Divisions),
        (ReasonKind.IndirectCalls, 5, facts => facts.IndirectCalls),
        (ReasonKind.Calls, 4, facts => facts.Calls),
        (ReasonKind.TypeChecks, 4, facts => facts.TypeChecks),
        (ReasonKind.WriteBarriers, 3, facts => facts.WriteBarriers),
        (ReasonKind.Copies, 1, facts => facts.Spills),
        (ReasonKind.BoundsChecks, 0.7, facts => facts.BoundsChecks),
        (ReasonKind.Branches, 1, facts => facts.Branches - facts.BoundsChecks - facts.TypeChecks),
    ];

    // A processor of today begins so many instructions a cycle, where none waits for another.
    private const double InstructionsPerCycle = 4;

    // Less than that of the slower one's own cost explains nothing.
    private const double LeastShare = 0.1;

    // What is named second has to weigh about as much as the first.
    private const double NearlyAsMuch = 0.6;

    /// <summary>How much of a reason a code has.</summary>
    internal static int Amount(ReasonKind kind, CodeFacts facts) => kind switch
    {
        ReasonKind.NotFolded => facts.IsFoldedAway ? 0 : 1,
        ReasonKind.NoVectors or ReasonKind.NarrowerVectors => facts.VectorBits,
        ReasonKind.DeeperLoops => facts.LoopDepth,
        ReasonKind.MoreInstructions => facts.Instructions,
        _ => s_catalogue.First(entry => entry.Kind == kind).Count(facts),
    };

    /// <summary>The reasons that the code suggests, the heaviest first; none when it suggests nothing.</summary>
    /// <param name="slower">The code of the slower variant.</param>
    /// <param name="faster">The code of the faster one.</param>
    public static IReadOnlyList<Reason> Between(CodeTree slower, CodeTree faster)
    {
        ArgumentNullException.ThrowIfNull(slower);
        ArgumentNullException.ThrowIfNull(faster);
        var (slow, fast) = (HotFacts.Of(slower), HotFacts.Of(faster));
        if (fast.IsFoldedAway != slow.IsFoldedAway)
        {
            return fast.IsFoldedAway
                ? [new(ReasonKind.NotFolded, slow.Instructions, fast.Instructions, slow.Instructions / InstructionsPerCycle)] : [];
        }

        if (slow.VectorBits < fast.VectorBits)
        {
            return [new(slow.VectorBits == 0 ? ReasonKind.NoVectors : ReasonKind.NarrowerVectors, slow.VectorBits, fast.VectorBits,
                double.PositiveInfinity)];
        }

        if (slow.LoopDepth > fast.LoopDepth)
        {
            return [new(ReasonKind.DeeperLoops, slow.LoopDepth, fast.LoopDepth, double.PositiveInfinity)];
        }

        var more = slow.Instructions - fast.Instructions;
        var own = (slow.Instructions / InstructionsPerCycle) + s_catalogue.Sum(entry => entry.Cycles * entry.Count(slow));
        List<Reason> found =
        [
            .. s_catalogue.Select(entry => (entry.Kind, Slow: entry.Count(slow), Fast: entry.Count(fast), entry.Cycles))
                .Where(entry => entry.Slow > entry.Fast)
                .Select(entry => new Reason(entry.Kind, entry.Slow, entry.Fast, entry.Cycles * (entry.Slow - entry.Fast)))
                .Where(reason => reason.Cycles >= LeastShare * own)
                .OrderByDescending(reason => reason.Cycles),
        ];
        return found.Count > 0 ? [.. found.Where(reason => reason.Cycles >= NearlyAsMuch * found[0].Cycles)]
            : more > LeastShare * slow.Instructions
                ? [new(ReasonKind.MoreInstructions, slow.Instructions, fast.Instructions, more / InstructionsPerCycle)]
            : [];
    }
}
