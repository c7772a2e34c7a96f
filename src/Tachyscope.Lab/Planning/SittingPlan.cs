using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Planning;

/// <summary>The cells of one sitting, the workers that hold them, and the order of everything in it, all from one seed.</summary>
public sealed class SittingPlan
{
    // Cells that are known well enough take part in one round of these.
    private const int RestingRounds = 4;

    private readonly Random _random;
    private readonly IReadOnlyList<int> _processors;
    private readonly int[] _loops;
    private readonly List<int[]> _blocks;
    private readonly HashSet<int> _resting;
    private readonly int[] _wakingRounds;
    private int[] _copies;

    private SittingPlan(StudyDescription study, SittingWish wish, IReadOnlyList<CellDescription> cells, Random random)
    {
        Seed = wish.Seed;
        Cells = cells;
        _processors = wish.Processors;
        _random = random;
        _loops = [.. Indices(cells).Where(index => cells[index].Kind == CellKind.Identity)];
        _blocks = [.. Indices(cells)
            .Where(index => cells[index].Kind is CellKind.Variant or CellKind.Twin)
            .GroupBy(index => cells[index].Input)
            .OrderBy(block => block.Key)
            .Select(block => block.ToArray())];
        _resting = [.. _blocks.SelectMany(block => block).Where(index => IsResting(study, wish, cells[index]))];
        // When nothing is open any more, time is shared by all.
        if (_blocks.TrueForAll(block => Array.TrueForAll(block, _resting.Contains)))
        {
            _resting.Clear();
        }

        _wakingRounds = new int[Math.Max(1, study.Inputs.Count)];
        _copies = [.. Enumerable.Range(0, cells.Max(cell => cell.Copy) + 1)];
    }

    /// <summary>Copies of the code that rounds go through, each round calling one.</summary>
    public int Copies
    {
        get => _copies.Length;
        set => _copies = [.. Enumerable.Range(0, Math.Clamp(value, 1, _copies.Length))];
    }

    /// <summary>Seed all orders follow from.</summary>
    public int Seed { get; }

    /// <summary>The cells, worker by worker, each worker's in the order they are to be set up.</summary>
    public IReadOnlyList<CellDescription> Cells { get; }

    /// <summary>Workers that hold the cells.</summary>
    public int Workers => Cells[^1].Worker + 1;

    /// <summary>The first cell of a worker, which has the target and the guest of all of them.</summary>
    /// <param name="worker">The worker.</param>
    public CellDescription CellOf(int worker) => Cells[FirstOf(worker)];

    /// <summary>Index of the first cell of a worker, from which it counts its own.</summary>
    /// <param name="worker">The worker.</param>
    public int FirstOf(int worker) => Indices(Cells).First(index => Cells[index].Worker == worker);

    /// <summary>Index of a worker's metronome.</summary>
    /// <param name="worker">The worker.</param>
    public int Metronome(int worker)
        => Indices(Cells).First(index => Cells[index].Kind == CellKind.Metronome && Cells[index].Worker == worker);

    /// <summary>Plans a sitting of a study.</summary>
    /// <param name="study">The study.</param>
    /// <param name="wish">What the sitting is to be like.</param>
    public static SittingPlan For(StudyDescription study, SittingWish wish)
    {
        ArgumentNullException.ThrowIfNull(study);
        ArgumentNullException.ThrowIfNull(wish);
        var random = new Random(wish.Seed);
        var operations = Enumerable.Range(0, wish.Targets).SelectMany(target => Operations(study, wish, target)).ToList();
        if (wish.IsOverlappedRead)
        {
            operations.AddRange(operations.Where(CanOverlap)
                .Select(cell => cell with { Loop = cell.Loop with { Order = CallOrder.Overlapped } }).ToList());
        }

        if (wish.IsCalledRead)
        {
            operations.AddRange(operations.Where(CanBeCalled).Select(cell
                => cell with { Loop = cell.Loop with { IsCalled = true } }).ToList());
        }

        operations.AddRange([.. wish.EmptiedBytes.SelectMany(bytes => operations.Where(CanBeCold)
            .Select(cell => cell with { Loop = cell.Loop with { EmptiedBytes = bytes } }))]);

        // A guest has no copies: it is called in every round.
        operations = [.. Enumerable.Range(0, wish.Copies)
            .SelectMany(copy => operations.Where(cell => copy == 0 || cell.Guest is null).Select(cell => cell with { Copy = copy }))];
        var crew = operations.GroupBy(cell
            => (cell.Target, cell.Guest, Apart: wish.IsApart ? (cell.Kind, study.Variants[cell.Variant].Variant) : default)).Select(own
            => own.ToList());
        return new SittingPlan(study, wish, [.. crew.SelectMany((own, worker) => Equipped(own, worker, random))], random);
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

        // Which of a few rounds those that rest take part in is left to chance, input by input: what else comes every few rounds would be
        // in all of theirs. The first is for all, so that no sitting is without them.
        for (var input = 0; round > 0 && round % RestingRounds == 0 && input < _wakingRounds.Length; input++)
        {
            _wakingRounds[input] = _random.Next(RestingRounds);
        }

        // Each copy once before any comes again.
        if (round % _copies.Length == 0)
        {
            _random.Shuffle(_copies);
        }

        var copy = _copies[round % _copies.Length];
        bool IsOf(int index) => Cells[index].Kind == CellKind.Identity || Cells[index].Guest is not null || Cells[index].Copy == copy;
        bool IsAwake(int index) => !_resting.Contains(index) || round % RestingRounds == _wakingRounds[Cells[index].Input];
        return new RoundOrder
        {
            Round = round,
            Processor = _processors.Count == 0 ? null : _processors[_random.Next(_processors.Count)],
            Cells = [.. blocks.SelectMany(block => block).Where(index => !excluded.Contains(index) && IsOf(index) && IsAwake(index))],
        };
    }

    /// <summary>Rounds a cell takes part in, as a share: 1, or less once its contrast is known well enough.</summary>
    /// <param name="cell">Index of the cell.</param>
    public double ShareOfRounds(int cell) => _resting.Contains(cell) ? 1.0 / RestingRounds : 1;

    // One empty loop of each shape; the row and the input it names are those of the first cell that has it.
    private static CellDescription[] Equipped(List<CellDescription> own, int worker, Random random)
    {
        var loops = own.GroupBy(cell => cell.Loop).Select(group => group.First() with { Kind = CellKind.Identity, Copy = 0 });
        CellDescription[] cells = [new() { Kind = CellKind.Metronome, Target = own[0].Target, Guest = own[0].Guest }, .. loops, .. own];
        random.Shuffle(cells);
        return [.. cells.Select(cell => cell with { Worker = worker })];
    }

    // The reference of a contrast that is still open stays awake, and its twin with it.
    private static bool IsResting(StudyDescription study, SittingWish wish, CellDescription cell)
        => Enumerable.Range(0, study.Variants.Count)
            .Where(row => row == cell.Variant || study.Reference(row) == cell.Variant)
            .Where(row => study.Reference(row) != row)
            .All(row => wish.Decided.Contains((row, cell.Input)) || wish.Excluded.Contains((row, cell.Input, cell.Target)))
            && wish.Decided.Count > 0 && wish.Targets == 1;

    private static IEnumerable<CellDescription> Operations(StudyDescription study, SittingWish wish, int target)
    {
        for (var input = 0; input < study.Inputs.Count; input++)
        {
            for (var variant = 0; variant < study.Variants.Count; variant++)
            {
                // What is prepared whatever the input costs the same on a mix of them.
                if (wish.Excluded.Contains((variant, input, target))
                    || (study.Inputs[input].IsMix && study.Variants[variant].Part == VariantPart.Prepare))
                {
                    continue;
                }

                var row = study.Variants[variant];
                var guest = wish.GuestOf?.Invoke(variant);
                if (guest is not null && target > 0)
                {
                    continue;
                }

                var supply = study.IsInputChanged || study.Inputs[input].IsOfMany() ? InputSupply.Each : InputSupply.Same;
                var cell = new CellDescription { Kind = CellKind.Variant, Variant = variant, Input = input, Target = target, Guest = guest,
                    Loop = (wish.LoopOn?.Invoke(target, variant) ?? row.Loop) with { Supply = supply } };
                yield return cell;
                if (row.IsBaseline && row.Part != VariantPart.Prepare)
                {
                    yield return cell with { Kind = CellKind.Twin };
                }
            }
        }
    }

    private static bool CanOverlap(CellDescription cell)
        => cell is { Kind: CellKind.Variant, Loop: { Order: CallOrder.Chained, Threads: null } }
            && cell.Loop.Path is not (CallPath.Awaited or CallPath.Interpreted);

    private static bool CanBeCalled(CellDescription cell)
        => cell is { Kind: CellKind.Variant, Guest: null, Loop: { Path: CallPath.Direct, Threads: null } } && IsUsual(cell.Loop);

    private static bool CanBeCold(CellDescription cell)
        => cell is { Kind: CellKind.Variant, Guest: null, Loop: { Path: CallPath.Direct or CallPath.Delegate, Threads: null,
            Supply: InputSupply.Same } }
            && IsUsual(cell.Loop);

    // Not what is read beside that on request.
    private static bool IsUsual(LoopShape loop)
        => loop is { IsCalled: false, EmptiedBytes: null } && (loop.Order == CallOrder.Chained || loop.Result == ResultKind.None);

    private static IEnumerable<int> Indices(IReadOnlyList<CellDescription> cells) => Enumerable.Range(0, cells.Count);
}
