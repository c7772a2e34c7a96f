using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>The cells of one sitting and the order of everything in it, all from one seed.</summary>
public sealed class SittingPlan
{
    private readonly Random _random;
    private readonly IReadOnlyList<int> _processors;
    private readonly int[] _loops;
    private readonly List<int[]> _blocks;

    private SittingPlan(int seed, IReadOnlyList<CellDescription> cells, IReadOnlyList<int> processors, Random random)
    {
        Seed = seed;
        Cells = cells;
        _processors = processors;
        _random = random;
        _loops = [.. Indices(cells).Where(index => cells[index].Kind == CellKind.Identity)];
        _blocks = [.. Indices(cells)
            .Where(index => cells[index].Kind is CellKind.Variant or CellKind.Twin)
            .GroupBy(index => cells[index].Input)
            .OrderBy(block => block.Key)
            .Select(block => block.ToArray())];
    }

    /// <summary>Seed all orders follow from.</summary>
    public int Seed { get; }

    /// <summary>The cells, in the order they are to be set up.</summary>
    public IReadOnlyList<CellDescription> Cells { get; }

    /// <summary>Index of the metronome's cell.</summary>
    public int Metronome => Indices(Cells).First(index => Cells[index].Kind == CellKind.Metronome);

    /// <summary>Plans a sitting of a study.</summary>
    /// <param name="study">The study.</param>
    /// <param name="excluded">Cells that take no part, as variant and input.</param>
    /// <param name="seed">Seed of every order.</param>
    /// <param name="processors">Processors to choose from, one a round; empty to leave it to the system.</param>
    /// <param name="isOverlappedRead">Whether every cell is read in a loop of overlapping calls too.</param>
    public static SittingPlan For(
        StudyDescription study, IReadOnlySet<(int Variant, int Input)> excluded, int seed, IReadOnlyList<int> processors, bool isOverlappedRead = false)
    {
        ArgumentNullException.ThrowIfNull(study);
        ArgumentNullException.ThrowIfNull(excluded);
        ArgumentNullException.ThrowIfNull(processors);
        var random = new Random(seed);
        var operations = Operations(study, excluded).ToList();
        if (isOverlappedRead)
        {
            operations.AddRange(operations.Where(CanOverlap).Select(cell => cell with { Loop = cell.Loop with { Order = CallOrder.Overlapped } }).ToList());
        }

        // One empty loop of each shape; the row and the input it names are those of the first cell that has it.
        var loops = operations.GroupBy(cell => cell.Loop).Select(group => group.First() with { Kind = CellKind.Identity });
        CellDescription[] cells = [new() { Kind = CellKind.Metronome }, .. loops, .. operations];
        random.Shuffle(cells);
        return new SittingPlan(seed, cells, processors, random);
    }

    /// <summary>The next round: the loops and each input in turn, all in shuffled order.</summary>
    /// <remarks>The cells of one input stay together, so that what is compared is read within a millisecond or two.</remarks>
    /// <param name="round">Its number, from 0.</param>
    /// <param name="excluded">Indices of cells that take no part any more.</param>
    public RoundOrder NextRound(int round, IReadOnlySet<int> excluded)
    {
        ArgumentNullException.ThrowIfNull(excluded);
        int[][] blocks = [_loops, .. _blocks];
        _random.Shuffle(blocks);
        foreach (var block in blocks)
        {
            _random.Shuffle(block);
        }

        return new RoundOrder
        {
            Round = round,
            Processor = _processors.Count == 0 ? null : _processors[_random.Next(_processors.Count)],
            Cells = [.. blocks.SelectMany(block => block).Where(index => !excluded.Contains(index))],
        };
    }

    private static IEnumerable<CellDescription> Operations(StudyDescription study, IReadOnlySet<(int Variant, int Input)> excluded)
    {
        for (var input = 0; input < study.Inputs.Count; input++)
        {
            for (var variant = 0; variant < study.Variants.Count; variant++)
            {
                // What is prepared whatever the input costs the same on a mix of them.
                if (excluded.Contains((variant, input)) || (study.Inputs[input].IsMix && study.Variants[variant].Part == VariantPart.Prepare))
                {
                    continue;
                }

                var row = study.Variants[variant];
                var supply = study.IsInputChanged || study.Inputs[input].IsMix ? InputSupply.Each : InputSupply.Same;
                var cell = new CellDescription { Kind = CellKind.Variant, Variant = variant, Input = input, Loop = row.Loop with { Supply = supply } };
                yield return cell;
                if (row.IsBaseline && row.Part != VariantPart.Prepare)
                {
                    yield return cell with { Kind = CellKind.Twin };
                }
            }
        }
    }

    private static bool CanOverlap(CellDescription cell)
        => cell is { Kind: CellKind.Variant, Loop: { Order: CallOrder.Chained, Threads: null } } && cell.Loop.Path != CallPath.Awaited;

    private static IEnumerable<int> Indices(IReadOnlyList<CellDescription> cells) => Enumerable.Range(0, cells.Count);
}
