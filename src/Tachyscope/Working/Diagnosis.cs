using System.Diagnostics;
using Tachyscope.Measuring;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Working;

/// <summary>Looks at one cell in ways that would disturb readings; in a process of its own.</summary>
internal sealed class Diagnosis(StudyBody study, DiagnoseRequest request)
{
    // Long enough for code to be optimised: what is allocated before is not what is allocated in the end.
    private static readonly TimeSpan Warming = TimeSpan.FromMilliseconds(400);
    private static readonly TimeSpan LongestWatch = TimeSpan.FromSeconds(1.5);
    private static readonly TimeSpan Counting = TimeSpan.FromMilliseconds(150);
    private const long MostCountedCalls = 1 << 20;
    private const int EnoughSamples = 200;
    private const long BytesHeld = 4_000_000;
    private const int MostHeld = 1_000;

    public DiagnoseReply Make() => request.Kind switch
    {
        DiagnosisKind.FirstCall => new DiagnoseReply { FirstCallNanoseconds = FirstCall() },
        DiagnosisKind.Code => new DiagnoseReply { CodeVersions = Versions() },
        DiagnosisKind.Types => new DiagnoseReply { AllocatedTypes = Types() },
        DiagnosisKind.Counters => new DiagnoseReply { Counters = Counters() },
        _ => new DiagnoseReply { RetainedBytes = Retained() },
    };

    private MeasuredCell Cell() => study.Open([request.Cell], request.Seed, request.Seed)[0];

    private long FirstCall()
    {
        // What the instrument itself has to load must not be booked on the operation.
        Metronome.Read();
        return CellReader.Take(Cell(), 1).ElapsedNanoseconds;
    }

    private IReadOnlyList<AllocatedType> Types()
    {
        var cell = Cell();
        Call(cell, Warming, () => true);
        cell.ChangeLoop();
        Call(cell, Warming, () => true);
        using var samples = new AllocationSamples();
        Call(cell, LongestWatch, () => samples.Count < EnoughSamples);
        return samples.Found();
    }

    private IReadOnlyList<CodeVersion> Versions()
    {
        using var versions = new CodeVersions(study.Method(request.Cell.Variant)
            ?? throw new RpcException(RpcError.InvalidParameters, "A guest is looked at by its own worker, if at all."));
        var cell = Cell();
        versions.Begin();
        Call(cell, LongestWatch, () => !versions.IsQuiet);
        cell.ChangeLoop();
        // The built loop may call a version that was not needed before.
        Call(cell, Warming, () => true);
        return versions.Found();
    }

    // One counter at a time: processors have few places for them, and a counter that shares its place only estimates.
    private HardwareCounts Counters()
    {
        using var first = HardwareCounter.Begin(CounterKind.Instructions, out var absence);
        if (absence is not null)
        {
            return new HardwareCounts { Absence = absence };
        }

        var cell = Cell();
        Call(cell, Warming, () => true);
        cell.ChangeLoop();
        Call(cell, Warming, () => true);
        return new HardwareCounts
        {
            InstructionsPerCall = Counted(cell, CounterKind.Instructions),
            CyclesPerCall = Counted(cell, CounterKind.Cycles),
            BranchesMissedPerCall = Counted(cell, CounterKind.BranchesMissed),
            CacheMissesPerCall = Counted(cell, CounterKind.CacheMisses),
        };
    }

    private static double? Counted(MeasuredCell cell, CounterKind kind)
    {
        using var counter = HardwareCounter.Begin(kind, out _);
        if (counter is null)
        {
            return null;
        }

        var (start, calls, counted) = (Stopwatch.GetTimestamp(), 1L, new List<double>());
        while (Stopwatch.GetElapsedTime(start) < Counting)
        {
            Whereabouts.Enter(WorkerPlace.Cell, cell.Index);
            cell.Refill?.Invoke();
            var before = counter.Read();
            cell.Loop(calls);
            if (counter.Read() - before is not { } count)
            {
                return null;
            }

            counted.Add((double)count / calls);
            calls = Math.Min(Math.Min(calls * 2, MostCountedCalls), cell.MostCalls);
        }

        // The first turns are short ones, in which reading the counter itself counts.
        var late = counted.GetRange(counted.Count / 2, counted.Count - (counted.Count / 2));
        late.Sort();
        return late[late.Count / 2];
    }

    private static void Call(MeasuredCell cell, TimeSpan atMost, Func<bool> isMoreWanted)
    {
        var start = Stopwatch.GetTimestamp();
        var calls = 1L;
        while (Stopwatch.GetElapsedTime(start) < atMost && isMoreWanted())
        {
            Whereabouts.Enter(WorkerPlace.Cell, cell.Index);
            cell.Refill?.Invoke();
            cell.Loop(calls);
            calls = Math.Min(Math.Min(calls * 2, 1_024), cell.MostCalls);
        }
    }

    // Of many alike, so that what the heap counts roughly does not matter; of one input, which is not counted.
    private double? Retained()
    {
        var prepare = study.Preparing(request.Cell, request.Seed);
        if (prepare() is null)
        {
            return null;
        }

        var before = GC.GetAllocatedBytesForCurrentThread();
        GC.KeepAlive(prepare());
        var bytes = Math.Max(1, GC.GetAllocatedBytesForCurrentThread() - before);
        var held = new object?[Math.Clamp(BytesHeld / bytes, 8, MostHeld)];
        Whereabouts.Leave();
        var inUse = GC.GetTotalMemory(forceFullCollection: true);
        for (var i = 0; i < held.Length; i++)
        {
            Whereabouts.Enter(WorkerPlace.Cell, 0);
            held[i] = prepare();
        }

        Whereabouts.Leave();
        var kept = GC.GetTotalMemory(forceFullCollection: true) - inUse;
        GC.KeepAlive(held);
        GC.KeepAlive(prepare);
        return (double)kept / held.Length;
    }
}
