using Tachyscope.Runs;

namespace Tachyscope.Cli.Rehearsals;

/// <summary>A small run that nobody measured, with what most runs have, so that what reads a run can be rehearsed.</summary>
internal static class MadeUpRun
{
    private const int Variants = 3;
    private const int Sittings = 6;
    private const int Rounds = 6;
    private const int LowGauge = 1_250;
    private const int Links = 20_480;
    private const long Calls = 1_000;

    // Of cells in their order: the metronome, the empty loop, the baseline's twin, the variants.
    private static readonly int[] Nanoseconds = [3, 1, 60, 60, 40, 90];

    public static Run Make() => new()
    {
        Tool = "",
        Started = DateTimeOffset.UnixEpoch,
        State = RunState.Running,
        Plan = new RunPlan(),
        Machine = new MachineDescription { Processor = "", ProcessorCount = 2, OperatingSystem = "" },
        Environment = new WorkerEnvironment { Runtime = "", Architecture = "", IsOptimized = true, Processors = [0, 1], VectorBits = 256 },
        Studies =
        [
            new StudyRecord
            {
                Study = new StudyDescription
                {
                    Name = "rehearsal",
                    Agreement = "exactly",
                    Inputs = [new InputDescription { Label = "one", Sizes = [new InputSize("n", 1)] }],
                    Variants = [.. Enumerable.Range(0, Variants).Select(variant
                        => new VariantDescription { Name = $"v{variant}", Variant = $"v{variant}", IsBaseline = variant == 0 })],
                },
                Sittings = [.. Enumerable.Range(1, Sittings).Select(Sitting)],
            },
        ],
    };

    private static SittingRecord Sitting(int number)
    {
        CellDescription[] cells =
        [
            new() { Kind = CellKind.Metronome },
            new() { Kind = CellKind.Identity },
            new() { Kind = CellKind.Twin },
            .. Enumerable.Range(0, Variants).Select(variant => new CellDescription { Kind = CellKind.Variant, Variant = variant }),
        ];
        var (readings, gauges) = (new List<Reading>(), new List<TurnGauge>());
        for (var round = 0; round < Rounds; round++)
        {
            for (var place = 0; place < cells.Length - 1; place++)
            {
                // No two alike, as in a run.
                var (cell, unrest) = (place + 1, ((number * 7) + (round * 5) + (place * 3)) % 11);
                readings.Add(Taken(round, place, 0, Links, Nanoseconds[0] * (1_000 + unrest) / 2));
                readings.Add(Taken(round, place, cell, Calls, Nanoseconds[cell] * (1_000 + unrest)));
                readings.Add(Taken(round, place, cell, Calls, Nanoseconds[cell] * (1_003 + unrest)));
                var gauge = round % 3 == 2 ? 2 * LowGauge : LowGauge;
                gauges.Add(new TurnGauge
                {
                    Round = round, Place = place, Processor = round % 2, CallGauge = 20_000 + unrest,
                    Gauges = [gauge, gauge + unrest, gauge + unrest, gauge],
                });
            }
        }

        return new SittingRecord
        {
            Number = number, Repeat = 1, Seed = number, Copies = 1, Rounds = Rounds, IsPinned = true, WarmUpMilliseconds = 400,
            LowGauges = [LowGauge], Cells = cells, Readings = readings, Gauges = gauges,
            WarmUps = [.. cells.Select((_, cell) => new WarmUp
            {
                Cell = cell, IsSettled = true, SettledMilliseconds = 300, CallsPerReading = Calls, NanosecondsPerCall = Nanoseconds[cell],
                Code = new CellCode { IsInlined = true, LoopBytes = 64, Tier = CodeTier.Optimised },
                Curve = [new WarmUpPoint { Calls = 1, Milliseconds = 1, NanosecondsPerCall = 1, AllocatedBytesPerCall = 0 }],
            })],
        };
    }

    private static Reading Taken(int round, int place, int cell, long calls, long nanoseconds) => new()
    {
        Round = round, Place = place, Cell = cell, Calls = calls, ElapsedNanoseconds = nanoseconds, ProcessorNanoseconds = nanoseconds,
    };
}
