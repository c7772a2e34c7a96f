using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>Makes runs whose truth is known: readings with noise at every level a real machine has it.</summary>
public sealed record RunSimulator
{
    public const double IdentityNanoseconds = 0.8;
    private const double BeatNanoseconds = 1.0;
    private const int LowGauge = 1_250;

    /// <summary>True nanoseconds per call of each variant; the first is the baseline.</summary>
    public double[] Times { get; init; } = [100, 100];

    /// <summary>Sizes of the inputs; one without a size by default.</summary>
    public int[] Sizes { get; init; } = [];

    /// <summary>What the sizes count.</summary>
    public string Axis { get; init; } = "lamps";

    /// <summary>True nanoseconds per call of a variant at a size; its time among <see cref="Times"/> by default.</summary>
    public Func<int, int, double>? TimeAt { get; init; }

    /// <summary>How many times as long everything takes on each target; one target by default.</summary>
    public double[] Slowness { get; init; } = [1];

    /// <summary>Relative deviation of a worker's speed from the others', which its metronome feels as its cells do.</summary>
    public double WorkerDeviation { get; init; }

    /// <summary>Further truth about the study's rows and what it declares.</summary>
    public Func<StudyDescription, StudyDescription> Shape { get; init; } = study => study;

    /// <summary>Bytes per call of each variant.</summary>
    public long[] Bytes { get; init; } = [0, 0];

    public int Sittings { get; init; } = 6;

    public int Rounds { get; init; } = 12;

    /// <summary>Relative deviation of a cell from sitting to sitting: layout.</summary>
    public double SittingDeviation { get; init; } = 0.003;

    /// <summary>
    /// How many times as much each variant deviates, from sitting to sitting and from reading to reading; alike by default.
    /// </summary>
    public double[] Unrest { get; init; } = [];

    /// <summary>Relative deviation from reading to reading.</summary>
    public double ReadingDeviation { get; init; } = 0.01;

    /// <summary>Share of readings that take half as long again: interruptions.</summary>
    public double OutlierShare { get; init; } = 0.1;

    /// <summary>How much slower the machine runs in every second stretch of rounds.</summary>
    public double Slowing { get; init; } = 0.2;

    /// <summary>How much slower everything gets from the first round of a sitting to its last.</summary>
    public double Drift { get; init; }

    /// <summary>Share of rounds in which a cell is in its slow mode, a twentieth slower.</summary>
    public double SlowModeShare { get; init; }

    /// <summary>Mean share of turns in which somebody else uses the core, drawn anew for each sitting; null without a gauge.</summary>
    public double? SharedShare { get; init; }

    /// <summary>The share of a sitting by its number, where it is not drawn.</summary>
    public Func<int, double>? SharedShareOf { get; init; }

    /// <summary>How many times as long each variant takes then.</summary>
    public double[] SharedFactors { get; init; } = [1.6, 1.2];

    /// <summary>How many times as long as that everything takes then, by the number of the sitting; as long by default.</summary>
    public Func<int, double> SharedFactorOf { get; init; } = static _ => 1;

    /// <summary>
    /// How many times as long each variant takes where somebody uses half of the core, as every second of them does then; none by default.
    /// </summary>
    public double[] HalfSharedFactors { get; init; } = [];

    /// <summary>Whether others come and go many times within a reading, so that each gauge finds them by chance.</summary>
    public bool IsSharedInBursts { get; init; }

    /// <summary>Cycles of a virtual call while the core is ours alone, and while it is shared; not read by default.</summary>
    public (double Quiet, double Shared)? CallCycles { get; init; }

    /// <summary>Copies of the code that rounds go through in turn.</summary>
    public int Copies { get; init; } = 1;

    /// <summary>Relative deviation of a cell from copy to copy.</summary>
    public double CopyDeviation { get; init; }

    /// <summary>
    /// How likely each variant's code settles at a second speed, drawn anew for each sitting and copy, and how many times as long it takes
    /// then; its twin settles as it does. None by default.
    /// </summary>
    public (double Share, double Factor)[] SecondSpeeds { get; init; } = [];

    public bool IsSettled { get; init; } = true;

    public long CallsPerReading { get; init; } = 100_000;

    /// <summary>Whether the order of the cells changes from round to round.</summary>
    public bool IsShuffled { get; init; }

    public IReadOnlyList<CellFailure> Failures { get; init; } = [];

    public RunState State { get; init; } = RunState.Complete;

    public WorkerEnvironment Environment { get; init; } = new() { Runtime = ".NET 10.0.0", Architecture = "x64", IsOptimized = true,
        Processors = [0, 1] };

    public LoopShape Loop { get; init; } = new();

    /// <summary>The loop of each variant; the one above by default.</summary>
    public Func<int, LoopShape>? LoopOf { get; init; }

    /// <summary>
    /// Share of readings of each variant that a collection falls into, and how long it pauses them, in nanoseconds; none by default.
    /// </summary>
    public (double Share, long Nanoseconds)[] Pauses { get; init; } = [];

    public Run Make(int seed)
    {
        var random = new Random(seed);
        var study = new StudyDescription
        {
            Name = "simulated",
            Agreement = "exactly",
            Inputs = Sizes.Length == 0
                ? [new() { Label = "a lamp" }]
                : [.. Sizes.Select(size => new InputSize(Axis, size))
                    .Select(size => new InputDescription { Label = $"{size}", Sizes = [size] })],
            Variants = [.. Times.Select((_, variant) => new VariantDescription { Name = $"v{variant}", Variant = $"v{variant}",
                IsBaseline = variant == 0, Loop = LoopFor(variant) })],
        };
        study = Shape(study);
        return new Run
        {
            Tool = "test",
            Started = DateTimeOffset.UnixEpoch,
            State = State,
            Plan = new RunPlan(),
            Machine = new() { Processor = "Lamp", ProcessorCount = 2, OperatingSystem = "Harbour" },
            Environment = Environment,
            Targets = Slowness.Length == 1
                ? []
                : [.. Slowness.Select((_, target) => new TargetDescription { Name = $"t{target}", Environment = Environment })],
            Studies = [new() { Study = study, Failures = Failures,
                Sittings = [.. Enumerable.Range(1, Sittings).Select(number => Sitting(number, random))] }],
        };
    }

    private SittingRecord Sitting(int number, Random random)
    {
        var failed = Failures.Select(failure => failure.Variant).ToHashSet();
        CellDescription[] cells = [.. Enumerable.Range(0, Slowness.Length).SelectMany(target => Cells(target, failed))];
        var speeds = Slowness.Select(_ => WorkerDeviation == 0 ? 1 : Math.Exp(WorkerDeviation * Normal(random))).ToArray();
        var layouts = cells.Select(cell => Math.Exp(SittingDeviation * UnrestOf(cell) * Normal(random))).ToArray();
        var placed = cells.Select(_ => Enumerable.Range(0, Copies)
            .Select(_ => CopyDeviation == 0 ? 1 : Math.Exp(CopyDeviation * Normal(random))).ToArray()).ToArray();
        Settle(cells, placed, random);
        var copied = Enumerable.Range(0, cells.Length).Where(cell => cells[cell].Kind is CellKind.Variant or CellKind.Twin).ToList();
        var shared = SharedShareOf is not null ? SharedShareOf(number)
            : SharedShare is { } mean ? Math.Clamp(mean + (0.6 * (random.NextDouble() - 0.5)), 0, 1) : 0;
        var gauges = new List<TurnGauge>();
        var readings = new List<Reading>(Rounds * (cells.Length - 1) * 4);
        for (var round = 0; round < Rounds; round++)
        {
            var speed = (round / 4 % 2 == 0 ? 1 : 1 + Slowing) * (1 + (Drift * round / Rounds));
            bool[] isSlow = [.. cells.Select(_ => random.NextDouble() < SlowModeShare)];
            int[] order = [.. Enumerable.Range(0, cells.Length).Where(cell => cells[cell].Kind != CellKind.Metronome)];
            if (IsShuffled)
            {
                random.Shuffle(order);
            }

            for (var place = 1; place <= order.Length; place++)
            {
                var index = order[place - 1];
                var cell = cells[index];
                var pace = speed * speeds[cell.Target];
                readings.Add(Taken(round, place,
                    Array.FindIndex(cells, other => other.Kind == CellKind.Metronome && other.Target == cell.Target), 20_000,
                    BeatNanoseconds * pace, 0));
                var (isShared, copy) = (SharedShare is not null && random.NextDouble() < shared, round % Copies);
                var isByHalf = isShared && HalfSharedFactors.Length > 0 && random.NextDouble() < 0.5;
                var time = cell.Kind == CellKind.Identity ? 0
                    : (TimeAt is null ? Times[cell.Variant] : TimeAt(cell.Variant, Sizes.Length == 0 ? 0 : Sizes[cell.Input]))
                        * layouts[index] * placed[index][copy] * (isSlow[index] ? 1.05 : 1) * Slowness[cell.Target]
                        * (IsSharedInBursts ? 1 + (shared * (SharedFactors[cell.Variant] - 1))
                            : isByHalf ? HalfSharedFactors[cell.Variant]
                            : isShared ? SharedFactors[cell.Variant] * SharedFactorOf(number) : 1);
                var own = copy == 0 || cell.Kind == CellKind.Identity
                    ? index
                    : cells.Length + ((copy - 1) * copied.Count) + copied.IndexOf(index);
                if (SharedShare is not null)
                {
                    gauges.Add(new TurnGauge
                    {
                        Round = round, Place = place, Processor = 0,
                        Gauges = [.. Enumerable.Range(0, 6).Select(at => Gauge(
                            IsSharedInBursts ? random.NextDouble() < shared : isShared && (!isByHalf || at % 2 == 0), random))],
                        CallGauge = CallCycles is { } cycles ? (int)(1_000 / 3.0 * (isShared ? cycles.Shared : cycles.Quiet)) : 0,
                    });
                }

                for (var i = 0; i < 3; i++)
                {
                    var noise = Math.Exp(ReadingDeviation * UnrestOf(cell) * Normal(random)) * (random.NextDouble() < OutlierShare
                        ? 1.5
                        : 1);
                    readings.Add(WithPause(
                        Taken(round, place, own, CallsPerReading, (time + IdentityNanoseconds) * pace * noise,
                            cell.Kind == CellKind.Identity ? 0 : Bytes[cell.Variant]),
                        cell, random));
                }
            }
        }

        return new SittingRecord
        {
            Number = number, Seed = number,
            Cells = [.. cells, .. Enumerable.Range(1, Copies - 1)
                .SelectMany(copy => copied.Select(cell => cells[cell] with { Copy = copy }))],
            Copies = Copies, Gauges = gauges, LowGauges = SharedShare is null ? [] : [.. Slowness.Select(_ => LowGauge)],
            IsPinned = WorkerDeviation == 0,
            Rounds = Rounds, Readings = readings, WarmUpMilliseconds = 500,
            WarmUps = [.. Enumerable.Range(0, cells.Length).Select(cell => new WarmUp { Cell = cell, IsSettled = IsSettled })],
        };
    }

    private void Settle(CellDescription[] cells, double[][] placed, Random random)
    {
        for (var variant = 0; variant < SecondSpeeds.Length; variant++)
        {
            for (var copy = 0; copy < Copies; copy++)
            {
                var factor = random.NextDouble() < SecondSpeeds[variant].Share ? SecondSpeeds[variant].Factor : 1;
                for (var cell = 0; cell < cells.Length; cell++)
                {
                    placed[cell][copy] *= cells[cell].Kind is CellKind.Variant or CellKind.Twin && cells[cell].Variant == variant
                        ? factor : 1;
                }
            }
        }
    }

    private IEnumerable<CellDescription> Cells(int target, HashSet<int> failed)
        => ((CellDescription[])
        [
            new() { Kind = CellKind.Metronome },
            .. Enumerable.Range(0, Times.Length)
                .Select(LoopFor).Distinct().Select(loop => new CellDescription { Kind = CellKind.Identity, Loop = loop }),
            .. from input in Enumerable.Range(0, Math.Max(1, Sizes.Length))
               from cell in failed.Contains(0) ? [] : (CellDescription[])[new() { Kind = CellKind.Twin, Loop = LoopFor(0), Input = input }]
               select cell,
            .. from input in Enumerable.Range(0, Math.Max(1, Sizes.Length))
               from variant in Enumerable.Range(0, Times.Length)
               where !failed.Contains(variant)
               select new CellDescription { Kind = CellKind.Variant, Variant = variant, Loop = LoopFor(variant), Input = input },
        ]).Select(cell => cell with { Target = target, Worker = target });

    // Two states cleanly apart, as machines were seen to have them.
    private static int Gauge(bool isShared, Random random)
        => (int)(LowGauge * (isShared ? 1.4 + (0.4 * random.NextDouble()) : 1 + (0.02 * random.NextDouble())));

    private double UnrestOf(CellDescription cell)
        => cell.Kind == CellKind.Variant && cell.Variant < Unrest.Length ? Unrest[cell.Variant] : 1;

    private LoopShape LoopFor(int variant) => LoopOf?.Invoke(variant) ?? Loop;

    private Reading WithPause(Reading reading, CellDescription cell, Random random)
        => cell.Kind != CellKind.Variant || cell.Variant >= Pauses.Length || random.NextDouble() >= Pauses[cell.Variant].Share
            ? reading
            : reading with
        {
            ElapsedNanoseconds = reading.ElapsedNanoseconds + Pauses[cell.Variant].Nanoseconds,
            ProcessorNanoseconds = reading.ProcessorNanoseconds + Pauses[cell.Variant].Nanoseconds,
            PauseNanoseconds = Pauses[cell.Variant].Nanoseconds, CollectionsGen0 = 1,
        };

    private static Reading Taken(int round, int place, int cell, long calls, double nanosecondsPerCall, long bytes) => new()
    {
        Round = round, Place = place, Cell = cell, Calls = calls, AllocatedBytes = bytes * calls,
        ElapsedNanoseconds = (long)(nanosecondsPerCall * calls), ProcessorNanoseconds = (long)(nanosecondsPerCall * calls),
    };

    internal static double Normal(Random random)
        => Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
}
