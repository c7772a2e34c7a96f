using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Facts;

/// <summary>
/// Counts in the part of a variant's code that runs most often: its loops and what they call; all of it where it has no loop. What only
/// throws is left out.
/// </summary>
public static class HotFacts
{
    /// <summary>Counts in the hot part of a tree.</summary>
    /// <param name="tree">The code; its listings were read.</param>
    public static CodeFacts Of(CodeTree tree)
    {
        ArgumentNullException.ThrowIfNull(tree);
        List<CodeFacts> parts = [];
        Collect(tree, isHot: !tree.All.Any(HasLoop), parts, []);
        return FactFinder.Sum(parts.Count == 0 ? [FactFinder.Of([], tree.Listing)] : parts, tree, FactFinder.Of(tree).IsFoldedAway);
    }

    private static bool HasLoop(MachineListing listing) => new FlowGraph(listing).LoopHeads.Any();

    // Of what is hot as a whole, every call leads to what is hot; of what has loops, those within them.
    private static void Collect(CodeTree tree, bool isHot, List<CodeFacts> parts, HashSet<string> seen)
    {
        var graph = new FlowGraph(tree.Listing);
        var hot = tree.Listing.Blocks.Where((_, index) => !graph.Throws(index) && (isHot || graph.GoesRound(index)))
            .SelectMany(block => block.Instructions).ToList();
        if (hot.Count > 0 && seen.Add(tree.Listing.Method))
        {
            parts.Add(FactFinder.Of(hot, tree.Listing));
        }

        foreach (var callee in tree.Callees)
        {
            Collect(callee, hot.Exists(instruction => instruction.Callee == callee.Listing.Method), parts, seen);
        }
    }
}
