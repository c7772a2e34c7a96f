namespace Tachyscope.Code.Listings;

/// <summary>
/// Where control may go within a listing, from block to block, and which blocks are loops: a loop begins with a block that is jumped back
/// to from one which is only reached through it (Aho, Lam, Sethi, Ullman: Compilers, 9.6).
/// </summary>
internal sealed class FlowGraph
{
    private readonly IReadOnlyList<int>[] _next;
    private readonly bool[][] _reaches;
    private readonly bool[] _throws;

    public FlowGraph(MachineListing listing)
    {
        _next = [.. listing.Blocks.Select((block, index) => Next(listing, block, index))];
        _reaches = [.. Enumerable.Range(0, _next.Length).Select(Reached)];
        _throws = [.. listing.Blocks.Select(block => Last(block) is { Mnemonic: "int3" })];
    }

    /// <summary>Blocks that begin a loop.</summary>
    public IEnumerable<int> LoopHeads => Loops.Select(loop => loop.Head);

    /// <summary>Its loops: the block that each begins with, and all blocks of it.</summary>
    public IReadOnlyList<(int Head, IReadOnlySet<int> Body)> Loops
    {
        get
        {
            var before = Dominators();
            return [.. Enumerable.Range(0, _next.Length).Where(head => Enumerable.Range(0, _next.Length)
                    .Any(block => before[block] is { } through && through[head] && _next[block].Contains(head)))
                .Select(head => (head, (IReadOnlySet<int>)BodyOf(head, before)))];
        }
    }

    /// <summary>How many loops each block lies in.</summary>
    public IReadOnlyList<int> Depths
    {
        get
        {
            var depths = new int[_next.Length];
            foreach (var block in Loops.SelectMany(loop => loop.Body))
            {
                depths[block]++;
            }

            return depths;
        }
    }

    /// <summary>The blocks of a loop in the order of the only way round it; null where there are several ways.</summary>
    public IReadOnlyList<int>? OnlyWayRound(int head, IReadOnlySet<int> body)
    {
        List<int> way = [head];
        while (_next[way[^1]].Where(body.Contains).ToList() is [var next])
        {
            if (next == head)
            {
                return way;
            }

            if (way.Contains(next))
            {
                return null;
            }

            way.Add(next);
        }

        return null;
    }

    /// <summary>Whether a block ends by throwing.</summary>
    public bool Throws(int block) => _throws[block];

    /// <summary>Whether a block comes back to itself.</summary>
    public bool GoesRound(int block) => _reaches[block][block];

    /// <summary>Whether a block goes round with another, or is where that round ends by throwing.</summary>
    public bool IsRoundWith(int block, int other)
        => _reaches[block][other] && (_reaches[other][block] || _throws[other]);

    private static IReadOnlyList<int> Next(MachineListing listing, MachineBlock block, int index)
    {
        var (jumps, last) = (block.Instructions.Select(instruction => instruction.JumpsTo).OfType<int>(), Last(block));
        var ends = last is { Mnemonic: "jmp" or "ret" or "int3" } or { IsTailCall: true };
        var cases = last is { Mnemonic: "jmp", JumpsTo: null } ? listing.Cases : [];
        return [.. jumps.Concat(cases).Concat(ends || index + 1 == listing.Blocks.Count ? [] : [index + 1]).Distinct()];
    }

    // Padding may follow what ends a block.
    private static MachineInstruction? Last(MachineBlock block)
        => block.Instructions.LastOrDefault(instruction => instruction.Mnemonic is not ("align" or "nop"));

    // The head, and what comes to a jump back to it without going through it.
    private HashSet<int> BodyOf(int head, bool[]?[] before)
    {
        HashSet<int> body = [head];
        var open = new Stack<int>(Enumerable.Range(0, _next.Length)
            .Where(block => before[block] is { } through && through[head] && _next[block].Contains(head)));
        while (open.TryPop(out var block))
        {
            if (body.Add(block))
            {
                foreach (var previous in Enumerable.Range(0, _next.Length).Where(other => before[other] is not null
                    && _next[other].Contains(block)))
                {
                    open.Push(previous);
                }
            }
        }

        return body;
    }

    // By one step at least.
    private bool[] Reached(int from)
    {
        var reached = new bool[_next.Length];
        var open = new Stack<int>(_next[from]);
        while (open.TryPop(out var block))
        {
            if (!reached[block])
            {
                reached[block] = true;
                foreach (var next in _next[block])
                {
                    open.Push(next);
                }
            }
        }

        return reached;
    }

    // The blocks that every way from the first goes through on its way to each; null for what is not reached.
    private bool[]?[] Dominators()
    {
        var through = new bool[]?[_next.Length];
        through[0] = new bool[_next.Length];
        through[0]![0] = true;
        var isChanged = true;
        while (isChanged)
        {
            isChanged = false;
            for (var block = 0; block < _next.Length; block++)
            {
                foreach (var next in through[block] is null ? [] : _next[block])
                {
                    isChanged |= Narrow(through, block, next);
                }
            }
        }

        return through;
    }

    private static bool Narrow(bool[]?[] through, int block, int next)
    {
        if (next == 0)
        {
            return false;
        }

        if (through[next] is not { } known)
        {
            through[next] = [.. through[block]!];
            through[next]![next] = true;
            return true;
        }

        var isChanged = false;
        for (var other = 0; other < known.Length; other++)
        {
            var stays = known[other] && (through[block]![other] || other == next);
            isChanged |= stays != known[other];
            known[other] = stays;
        }

        return isChanged;
    }
}
