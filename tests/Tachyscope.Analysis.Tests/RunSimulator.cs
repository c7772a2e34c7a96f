using Tachyscope.Runs;

namespace Tachyscope.Analysis.Tests;

/// <summary>Makes runs whose truth is known: readings with noise at every level a real machine has it.</summary>
public sealed record RunSimulator
{
    public const double IdentityNanoseconds = 0.8;
    private const double BeatNanoseconds = 1.0;

    /// <summary>True nanoseconds per call of each variant; the first is the baseline.</summary>
    public double[] Times { get; init; } = [100, 100];

    /// <summary>Bytes per call of each variant.</summary>
    public long[] Bytes { get; init; } = [0, 0];

    public int Sittings { get; init; } = 6;

    public int Rounds { get; init; } = 12;

    /// <summary>Relative deviation of a cell from sitting to sitting: layout.</summary>
    public double SittingDeviation { get; init; } = 0.003;

    /// <summary>Relative deviation from reading to reading.</summary>
    public double ReadingDeviation { get; init; } = 0.01;

    /// <summary>Share of readings that take half as long again: interruptions.</summary>
    public double OutlierShare { get; init; } = 0.1;

    /// <summary>How much slower the machine runs in every second stretch of rounds.</summary>
    public double Slowing { get; init; } = 0.2;

    public bool IsSettled { get; init; } = true;

    public long CallsPerReading { get; init; } = 100_000;

    /// <summary>Whether the order of the cells changes from round to round.</summary>
    public bool IsShuffled { get; init; }

    public IReadOnlyList<CellFailure> Failures { get; init; } = [];

    public RunState State { get; init; } = RunState.Complete;

    public WorkerEnvironment Environment { get; init; } = new() { Runtime = ".NET 10.0.0", Architecture = "x64", IsOptimized = true, Processors = [0, 1] };

    public LoopShape Loop { get; init; } = new();

    public Run Make(int seed)
    {
        var random = new Random(seed);
        var study = new StudyDescription
        {
            Name = "simulated",
            Agreement = "exactly",
            Inputs = [new() { Label = "a lamp" }],
            Variants = [.. Times.Select((_, variant) => new VariantDescription { Name = $"v{variant}", Variant = $"v{variant}", IsBaseline = variant == 0, Loop = Loop })],
        };
        return new Run
        {
            Tool = "test",
            Started = DateTimeOffset.UnixEpoch,
            State = State,
            Plan = new RunPlan(),
            Machine = new() { Processor = "Lamp", ProcessorCount = 2, OperatingSystem = "Harbour" },
            Environment = Environment,
            Studies = [new() { Study = study, Failures = Failures, Sittings = [.. Enumerable.Range(1, Sittings).Select(number => Sitting(number, random))] }],
        };
    }

    private SittingRecord Sitting(int number, Random random)
    {
        var failed = Failures.Select(failure => failure.Variant).ToHashSet();
        CellDescription[] cells =
        [
            new() { Kind = CellKind.Metronome },
            new() { Kind = CellKind.Identity, Loop = Loop },
            .. failed.Contains(0) ? [] : (CellDescription[])[new() { Kind = CellKind.Twin, Loop = Loop }],
            .. Enumerable.Range(0, Times.Length).Where(variant => !failed.Contains(variant))
                .Select(variant => new CellDescription { Kind = CellKind.Variant, Variant = variant, Loop = Loop }),
        ];
        var layouts = cells.Select(_ => Math.Exp(SittingDeviation * Normal(random))).ToArray();
        var readings = new List<Reading>();
        for (var round = 0; round < Rounds; round++)
        {
            var speed = round / 4 % 2 == 0 ? 1 : 1 + Slowing;
            int[] order = [.. Enumerable.Range(1, cells.Length - 1)];
            if (IsShuffled)
            {
                random.Shuffle(order);
            }

            for (var place = 1; place < cells.Length; place++)
            {
                readings.Add(Taken(round, place, 0, 20_000, BeatNanoseconds * speed, 0));
                var index = order[place - 1];
                var cell = cells[index];
                var time = cell.Kind == CellKind.Identity ? 0 : Times[cell.Variant] * layouts[index];
                for (var i = 0; i < 3; i++)
                {
                    var noise = Math.Exp(ReadingDeviation * Normal(random)) * (random.NextDouble() < OutlierShare ? 1.5 : 1);
                    readings.Add(Taken(round, place, index, CallsPerReading, (time + IdentityNanoseconds) * speed * noise, cell.Kind == CellKind.Identity ? 0 : Bytes[cell.Variant]));
                }
            }
        }

        return new SittingRecord
        {
            Number = number, Seed = number, Cells = cells, IsPinned = true, Rounds = Rounds, Readings = readings, WarmUpMilliseconds = 500,
            WarmUps = [.. Enumerable.Range(0, cells.Length).Select(cell => new WarmUp { Cell = cell, IsSettled = IsSettled })],
        };
    }

    private static Reading Taken(int round, int place, int cell, long calls, double nanosecondsPerCall, long bytes) => new()
    {
        Round = round, Place = place, Cell = cell, Calls = calls, AllocatedBytes = bytes * calls,
        ElapsedNanoseconds = (long)(nanosecondsPerCall * calls), ProcessorNanoseconds = (long)(nanosecondsPerCall * calls),
    };

    private static double Normal(Random random)
        => Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
}
