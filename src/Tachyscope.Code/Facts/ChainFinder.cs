using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Facts;

/// <summary>
/// The least number of cycles that one round of a loop has to wait for the round before: the longest chain of results that hang on one
/// another from round to round, however many instructions a processor carries out at once. It is a bound from below: latencies are no
/// longer than those published of current x64 processors, and what passes through memory is taken to be there at once (Hennessy,
/// Patterson: Computer Architecture, 3.1 and 3.2).
/// </summary>
public static class ChainFinder
{
    // Rounds gone through, so that only what is carried on from each to the next is left; the bound is taken over the second half.
    private const int Rounds = 64;

    /// <summary>From call to call, where the whole operation became a part of the measured loop and has no loop of its own.</summary>
    /// <param name="loop">The measured loop's listing.</param>
    /// <returns>The chain; null where the operation branches, calls or goes round, so that it cannot be told.</returns>
    public static LeastChain? OfCall(MachineListing loop)
    {
        ArgumentNullException.ThrowIfNull(loop);
        return LoopFrame.Of(loop) is { } frame && new FlowGraph(loop).Loops.Count == 1 && RoundsOf(loop) is [{ } only]
            && Carried(only, frame.IsUsers) is { } cycles ? new LeastChain(cycles, IsOfCall: true) : null;
    }

    /// <summary>From round to round of the loops that no other lies in; the longest of several.</summary>
    /// <param name="tree">The code of an operation, and what was followed from it.</param>
    /// <returns>The chain; null where there is no loop, or every loop branches or calls, so that it cannot be told.</returns>
    public static LeastChain? OfRound(CodeTree tree)
    {
        ArgumentNullException.ThrowIfNull(tree);
        var chains = tree.All.SelectMany(RoundsOf).OfType<IReadOnlyList<MachineInstruction>>()
            .Select(round => Carried(round, _ => true)).OfType<double>().ToList();
        return chains.Count == 0 ? null : new LeastChain(chains.Max(), IsOfCall: false);
    }

    // The innermost loops, each as the instructions of a round; null for one that may go several ways.
    private static IReadOnlyList<IReadOnlyList<MachineInstruction>?> RoundsOf(MachineListing listing)
    {
        var graph = new FlowGraph(listing);
        var loops = graph.Loops;
        return [.. loops.Where(loop => !loops.Any(other => other.Head != loop.Head && loop.Body.Contains(other.Head)))
            .Select(loop => graph.OnlyWayRound(loop.Head, loop.Body) is { } way
                ? (IReadOnlyList<MachineInstruction>)[.. way.SelectMany(block => listing.Blocks[block].Instructions)] : null)];
    }

    private static double? Carried(IReadOnlyList<MachineInstruction> round, Func<MachineInstruction, bool> isCounted)
    {
        if (round.Any(instruction => instruction.IsCall || !Dataflow.IsKnown(instruction)))
        {
            return null;
        }

        List<(Dataflow Flow, double Cycles, double OfLoad)> flows = [.. round.Select(instruction => (Dataflow.Of(instruction),
            isCounted(instruction) ? Dataflow.LeastCycles(instruction) : 0, isCounted(instruction) ? Dataflow.LeastCyclesOfLoad : 0))];
        var written = flows.SelectMany(flow => flow.Flow.Writes).ToHashSet(StringComparer.Ordinal);
        var ready = new Dictionary<string, double>(StringComparer.Ordinal);
        var half = 0.0;
        for (var number = 0; number < Rounds; number++)
        {
            foreach (var (flow, cycles, ofLoad) in flows)
            {
                var begins = flow.Reads.Select(name => ready.GetValueOrDefault(name)).DefaultIfEmpty(0).Max();
                // A place is the same in the next round only where its address is.
                var loaded = !flow.IsLoading ? 0
                    : !flow.Address.Any(written.Contains) ? ready.GetValueOrDefault(flow.Place!)
                    : flow.Address.Max(name => ready.GetValueOrDefault(name)) + ofLoad;
                var ends = Math.Max(begins, loaded) + cycles;
                foreach (var name in flow.Writes)
                {
                    ready[name] = ends;
                }
            }

            half = number == (Rounds / 2) - 1 ? Latest(ready) : half;
        }

        return (Latest(ready) - half) / (Rounds / 2);
    }

    private static double Latest(Dictionary<string, double> ready) => ready.Values.DefaultIfEmpty(0).Max();
}
