using System.Diagnostics;
using System.Runtime.CompilerServices;
using Tachyscope.Answers;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>The cells of one sitting, from their first call to their last reading.</summary>
internal sealed class Sitting(IReadOnlyList<MeasuredCell> cells)
{
    private static readonly TimeSpan LongestHearing = TimeSpan.FromSeconds(2);

    private readonly QuietSeeker _seeker = new();

    public WarmReply Warm(WarmRequest request)
    {
        var failures = new List<CellError>();
        using var ear = request.IsCodeHeard ? new CodeEar() : null;
        var warmer = new Warmer(request, cells, failures, ear);
        warmer.Run();
        var (low, isSharp) = warmer.LowGauge;
        return new WarmReply
        {
            ElapsedMilliseconds = warmer.ElapsedMilliseconds,
            Cells = [.. request.Cells.Where(index => cells[index].WarmUp is not null).Select(index => cells[index].WarmUp!)],
            Failures = failures,
            Copies = warmer.Copies,
            LowGauge = low,
            IsLowGaugeSharp = isSharp,
            MemoryLoadShare = MemoryLoad(),
            StageCost = cells.Any(cell => cell.MarksStages) ? StageRecorder.Calibrate() : null,
        };
    }

    /// <summary>
    /// Compiles the loops once more, apart from those that were read, and hears what is decided. Not while they are warmed: hearing has
    /// methods of its own compiled, which on a busy machine would put off the operations'.
    /// </summary>
    public CompileReply Compile()
    {
        using var ear = new CodeEar();
        ear.HearDecisions();
        var loops = cells.Select(cell => Compile(cell)).ToList();
        var waited = Stopwatch.GetTimestamp();
        while (loops.Zip(cells).Any(made => made.First is { } loop && ear.Of(made.Second, loop) is null)
            && Stopwatch.GetElapsedTime(waited) < LongestHearing)
        {
            Thread.Sleep(5);
        }

        return new CompileReply { Codes = [.. loops.Zip(cells, (loop, cell) => loop is null ? null : ear.Of(cell, loop))] };
    }

    private static MeasuredLoop? Compile(MeasuredCell cell)
    {
        if (cell.HasFailed || cell.Description is not { Kind: CellKind.Variant, Copy: 0, Loop: { Path: CallPath.Direct, Threads: null } })
        {
            return null;
        }

        var loop = cell.WriteAnother();
        Whereabouts.Enter(WorkerPlace.Cell, cell.Index);
        cell.Refill?.Invoke();
        try
        {
            loop(1);
        }
#pragma warning disable CA1031 // It was compiled, whatever the operation threw.
        catch (Exception)
#pragma warning restore CA1031
        {
            return loop;
        }

        return loop;
    }

    // As of the collection that ends warming.
    private static double? MemoryLoad()
    {
        var memory = GC.GetGCMemoryInfo();
        return memory.HighMemoryLoadThresholdBytes > 0 ? (double)memory.MemoryLoadBytes / memory.HighMemoryLoadThresholdBytes : null;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public ReadReply Read(ReadRequest request)
    {
        var turns = request.Rounds.Sum(round => round.Cells.Count);
        // Set aside before the first turn, so that nothing of ours is allocated between two readings.
        var readings = new Reading[turns * Turn.MostReadings(request.ReadingsPerTurn)];
        var gauges = new int[turns * Turn.MostGauges(request.ReadingsPerTurn)];
        var taken = new TakenTurn[turns];
        var failures = new List<CellError>();
        var stages = new List<StageReading>();
        var (count, gauged, turnsTaken) = (0, 0, 0);
        var isPinned = true;
        if (cells.Any(cell => cell.Description.Loop.Path == CallPath.Awaited && !cell.HasFailed))
        {
            ShortTurns.Ask();
        }

        _seeker.Begin(request.Processors ?? [], request.QuietGauge);
        foreach (var round in request.Rounds)
        {
            isPinned &= _seeker.MoveTo(round.Processor);
            for (var turn = 0; turn < round.Cells.Count; turn++)
            {
                var index = round.Cells[turn];
                if (!cells[index].HasFailed
                    && TakeTurn(index, request, readings.AsSpan(count), gauges.AsSpan(gauged), failures, out var calls) is var read and > 0)
                {
                    Label(readings.AsSpan(count, read), round.Round, round.FirstPlace + turn, index, request.Metronome);
                    taken[turnsTaken++] = new TakenTurn(
                        round.Round, round.FirstPlace + turn, _seeker.Processor, gauged, 2 * (read - 1), calls);
                    count += read;
                    gauged += 2 * (read - 1);
                    ReadStages(index, round.Round, stages, failures);
                }
            }
        }

        return new ReadReply
        {
            Readings = readings[..count],
            Gauges = [.. taken[..turnsTaken].Select(turn => turn.WithGauges(gauges))],
            SoughtMilliseconds = _seeker.SoughtNanoseconds * 1e-6,
            StageReadings = stages,
            Failures = failures,
            IsPinned = isPinned,
        };
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private int TakeTurn(
        int index, ReadRequest request, Span<Reading> readings, Span<int> gauges, List<CellError> failures, out int calls)
    {
        calls = 0;
        try
        {
            return Turn.Take(cells[index], request, _seeker, readings, gauges, out calls);
        }
#pragma warning disable CA1031 // Whatever the user's operation throws ends its cell, not the sitting.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            cells[index].HasFailed = true;
            failures.Add(new CellError { Cell = index, Reason = $"threw {ExceptionText.Of(exception)}" });
            return 0;
        }
    }

    // After the readings without marks, which it must not disturb.
    private void ReadStages(int index, int round, List<StageReading> stages, List<CellError> failures)
    {
        var cell = cells[index];
        if (!cell.MarksStages || cell.HasFailed || cell.Description.Kind != CellKind.Variant
            || cell.Description.Loop.Order != CallOrder.Chained)
        {
            return;
        }

        StageRecorder.Begin();
        try
        {
            var reading = CellReader.Take(cell, cell.WarmUp!.CallsPerReading);
            stages.Add(new StageReading
            {
                Round = round, Cell = index, Calls = reading.Calls, ElapsedNanoseconds = reading.ElapsedNanoseconds,
                    Stages = StageRecorder.End(),
            });
        }
#pragma warning disable CA1031 // As for the readings without marks.
        catch (Exception exception)
#pragma warning restore CA1031
        {
            StageRecorder.End();
            cell.HasFailed = true;
            failures.Add(new CellError { Cell = index, Reason = $"threw {ExceptionText.Of(exception)}" });
        }
    }

    // A turn's first reading is the metronome's.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Label(Span<Reading> readings, int round, int place, int cell, int metronome)
    {
        for (var i = 0; i < readings.Length; i++)
        {
            readings[i] = readings[i] with { Round = round, Place = place, Cell = i == 0 ? metronome : cell };
        }
    }

    private readonly record struct TakenTurn(int Round, int Place, int Processor, int FirstGauge, int Gauges, int Calls)
    {
        public TurnGauge WithGauges(int[] all) => new()
        {
            Round = Round, Place = Place, Processor = Processor, Gauges = all[FirstGauge..(FirstGauge + Gauges)], CallGauge = Calls,
        };
    }
}
