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
    public static SittingPlan For(
        StudyDescription study, IReadOnlySet<(int Variant, int Input)> excluded, int seed, IReadOnlyList<int> processors)
    {
        ArgumentNullException.ThrowIfNull(study);
        ArgumentNullException.ThrowIfNull(excluded);
        ArgumentNullException.ThrowIfNull(processors);
        var random = new Random(seed);
        var operations = Operations(study, excluded).ToArray();
        var loops = operations.Select(cell => cell.Path).Distinct().Select(path => new CellDescription { Kind = CellKind.Identity, Path = path });
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
                if (excluded.Contains((variant, input)))
                {
                    continue;
                }

                var cell = new CellDescription
                {
                    Kind = CellKind.Variant, Variant = variant, Input = input, Path = study.Variants[variant].Path,
                };
                yield return cell;
                if (study.Variants[variant].IsBaseline)
                {
                    yield return cell with { Kind = CellKind.Twin };
                }
            }
        }
    }

    private static IEnumerable<int> Indices(IReadOnlyList<CellDescription> cells) => Enumerable.Range(0, cells.Count);
}
