using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Wire;

/// <summary>Writes the replies of every sitting, member by member; what is null is left out.</summary>
internal static class Replies
{
    internal static readonly string[] Tiers =
    [
        "unknown", "unoptimised", "optimisedAtOnce", "quick", "optimised", "optimisedInLoop", "profiling", "optimisedProfiling",
        "builtAhead",
    ];

    public static void Write(this JsonLine line, HelloReply reply)
    {
        line.BeginObject();
        line.Member("protocol"u8, reply.Protocol);
        line.Member("kit"u8, reply.Kit);
        line.Member("processId"u8, reply.ProcessId);
        line.Member("isAllocationTold"u8, reply.IsAllocationTold);
        line.Name("environment"u8);
        line.Write(reply.Environment);
        line.EndObject();
    }

    public static void Write(this JsonLine line, OpenReply reply)
    {
        line.BeginObject();
        line.Member("cells"u8, reply.Cells);
        line.Member("copies"u8, reply.Copies);
        line.Member("copiesProblem"u8, reply.CopiesProblem);
        line.EndObject();
    }

    /// <summary>What was warmed; slices and gauges belong to workers that leave it to the tool to say when they are warm.</summary>
    public static void Write(this JsonLine line, WarmReply reply)
    {
        line.BeginObject();
        line.Member("elapsedMilliseconds"u8, reply.ElapsedMilliseconds);
        line.Name("cells"u8);
        line.BeginArray();
        foreach (var cell in reply.Cells)
        {
            line.Write(cell);
        }

        line.EndArray();
        line.Write(reply.Failures);
        line.Member("copies"u8, reply.Copies);
        line.Member("lowGauge"u8, reply.LowGauge);
        line.Member("isLowGaugeSharp"u8, reply.IsLowGaugeSharp);
        line.Member("memoryLoadShare"u8, reply.MemoryLoadShare);
        if (reply.StageCost is { } cost)
        {
            line.Name("stageCost"u8);
            line.BeginObject();
            line.Member("worker"u8, cost.Worker);
            line.Member("insideNanoseconds"u8, cost.InsideNanoseconds);
            line.Member("outsideNanoseconds"u8, cost.OutsideNanoseconds);
            line.Member("unreadNanoseconds"u8, cost.UnreadNanoseconds);
            line.EndObject();
        }

        line.EndObject();
    }

    public static void Write(this JsonLine line, ReadReply reply)
    {
        line.BeginObject();
        line.Name("readings"u8);
        line.BeginArray();
        foreach (var reading in reply.Readings)
        {
            line.Write(reading);
        }

        line.EndArray();
        line.Name("gauges"u8);
        line.BeginArray();
        foreach (var gauge in reply.Gauges)
        {
            line.Write(gauge);
        }

        line.EndArray();
        line.Member("soughtMilliseconds"u8, reply.SoughtMilliseconds);
        line.Write(reply.Failures);
        line.Member("isPinned"u8, reply.IsPinned);
        line.Name("stageReadings"u8);
        line.BeginArray();
        foreach (var reading in reply.StageReadings)
        {
            line.Write(reading);
        }

        line.EndArray();
        line.EndObject();
    }

    public static void Write(this JsonLine line, CompileReply reply)
    {
        line.BeginObject();
        line.Name("codes"u8);
        line.BeginArray();
        foreach (var code in reply.Codes)
        {
            if (code is null)
            {
                line.Null();
            }
            else
            {
                line.Write(code);
            }
        }

        line.EndArray();
        line.EndObject();
    }

    public static void Write(this JsonLine line, RpcError error)
    {
        line.BeginObject();
        line.Member("code"u8, error.Code);
        line.Member("message"u8, error.Message);
        line.EndObject();
    }

    private static void Write(this JsonLine line, WorkerEnvironment environment)
    {
        line.BeginObject();
        line.Member("runtime"u8, environment.Runtime);
        line.Member("architecture"u8, environment.Architecture);
        line.Member("isOptimized"u8, environment.IsOptimized);
        line.Member("unoptimizedAssemblies"u8, environment.UnoptimizedAssemblies);
        line.Member("isDebuggerAttached"u8, environment.IsDebuggerAttached);
        line.Member("isProfilerAttached"u8, environment.IsProfilerAttached);
        line.Member("clockStepNanoseconds"u8, environment.ClockStepNanoseconds);
        line.Member("vectorBits"u8, environment.VectorBits);
        line.Member("instructionSets"u8, environment.InstructionSets);
        line.Member("isServerGc"u8, environment.IsServerGc);
        line.Member("isConcurrentGc"u8, environment.IsConcurrentGc);
        line.Member("framework"u8, environment.Framework);
        line.Member("isAheadOfTime"u8, environment.IsAheadOfTime);
        line.Name("processors"u8);
        line.BeginArray();
        foreach (var processor in environment.Processors)
        {
            line.Number(processor);
        }

        line.EndArray();
        line.Member("switches"u8, environment.Switches);
        line.EndObject();
    }

    private static void Write(this JsonLine line, WarmUp warm)
    {
        line.BeginObject();
        line.Member("cell"u8, warm.Cell);
        line.Member("firstCallNanoseconds"u8, warm.FirstCallNanoseconds);
        line.Member("firstCallAllocatedBytes"u8, warm.FirstCallAllocatedBytes);
        line.Member("calls"u8, warm.Calls);
        line.Member("isSettled"u8, warm.IsSettled);
        line.Member("settledMilliseconds"u8, warm.SettledMilliseconds);
        line.Member("lastCompiledMilliseconds"u8, warm.LastCompiledMilliseconds);
        line.Member("bytesChangedMilliseconds"u8, warm.BytesChangedMilliseconds);
        line.Member("callsUntilFast"u8, warm.CallsUntilFast);
        line.Member("millisecondsUntilFast"u8, warm.MillisecondsUntilFast);
        line.Member("nanosecondsPerCall"u8, warm.NanosecondsPerCall);
        line.Member("callsPerReading"u8, warm.CallsPerReading);
        line.Member("exceptionsPerCall"u8, warm.ExceptionsPerCall);
        line.Member("readsAndWritesPerCall"u8, warm.ReadsAndWritesPerCall);
        line.Member("waitsPerCall"u8, warm.WaitsPerCall);
        line.Member("otherThreadsShare"u8, warm.OtherThreadsShare);
        line.Member("peakMemoryBytes"u8, warm.PeakMemoryBytes);
        if (warm.Code is { } code)
        {
            line.Name("code"u8);
            line.Write(code);
        }

        line.Name("curve"u8);
        line.BeginArray();
        foreach (var point in warm.Curve)
        {
            line.BeginArray();
            line.Number(point.Calls);
            line.Number(point.Milliseconds);
            line.Number(point.NanosecondsPerCall);
            line.Number(point.AllocatedBytesPerCall);
            line.Number(point.CompiledMethods);
            line.EndArray();
        }

        line.EndArray();
        line.EndObject();
    }

    private static void Write(this JsonLine line, CellCode code)
    {
        line.BeginObject();
        if (code.IsInlined is { } isInlined)
        {
            line.Member("isInlined"u8, isInlined);
        }

        line.Member("loopBytes"u8, code.LoopBytes);
        line.Member("loopOffset"u8, code.LoopOffset);
        line.Member("bytes"u8, code.Bytes);
        line.Member("offset"u8, code.Offset);
        line.Member("tier"u8, Tiers[(int)code.Tier]);
        line.Name("callees"u8);
        line.BeginArray();
        foreach (var callee in code.Callees)
        {
            line.BeginObject();
            line.Member("name"u8, callee.Name);
            line.Member("bytes"u8, callee.Bytes);
            line.Member("offset"u8, callee.Offset);
            line.EndObject();
        }

        line.EndArray();
        line.Member("inputOffset"u8, code.InputOffset);
        line.EndObject();
    }

    // An array of numbers, as docs/protocol.md has it; most have nothing to tell at its end.
    private static void Write(this JsonLine line, in Reading reading)
    {
        line.BeginArray();
        line.Number(reading.Round);
        line.Number(reading.Place);
        line.Number(reading.Cell);
        line.Number(reading.Calls);
        line.Number(reading.ElapsedNanoseconds);
        if (reading.ProcessorNanoseconds is { } processor)
        {
            line.Number(processor);
        }
        else
        {
            line.Null();
        }

        ReadOnlySpan<long> counts =
        [
            reading.AllocatedBytes, reading.CollectionsGen0, reading.CollectionsGen1, reading.CollectionsGen2, reading.PauseNanoseconds,
            reading.CompiledMethods, reading.LockContentions,
        ];
        var told = counts.Length;
        while (told > 0 && counts[told - 1] == 0 && reading.IsCollectionHeld is null)
        {
            told--;
        }

        for (var index = 0; index < told; index++)
        {
            line.Number(counts[index]);
        }

        if (reading.IsCollectionHeld is { } isHeld)
        {
            line.Number(isHeld ? 1 : 0);
        }

        line.EndArray();
    }

    private static void Write(this JsonLine line, TurnGauge turn)
    {
        line.BeginArray();
        line.Number(turn.Round);
        line.Number(turn.Place);
        line.Number(turn.Processor);
        foreach (var gauge in turn.Gauges)
        {
            line.Number(gauge);
        }

        if (turn.CallGauge > 0)
        {
            line.Number(turn.CallGauge);
        }

        line.EndArray();
    }

    private static void Write(this JsonLine line, StageReading reading)
    {
        line.BeginObject();
        line.Member("round"u8, reading.Round);
        line.Member("cell"u8, reading.Cell);
        line.Member("calls"u8, reading.Calls);
        line.Member("elapsedNanoseconds"u8, reading.ElapsedNanoseconds);
        line.Name("stages"u8);
        line.BeginArray();
        foreach (var stage in reading.Stages)
        {
            line.BeginObject();
            line.Member("stage"u8, stage.Stage);
            line.Member("count"u8, stage.Count);
            line.Member("countInside"u8, stage.CountInside);
            line.Member("elapsedNanoseconds"u8, stage.ElapsedNanoseconds);
            line.EndObject();
        }

        line.EndArray();
        line.EndObject();
    }

    private static void Write(this JsonLine line, IReadOnlyList<CellError> failures)
    {
        line.Name("failures"u8);
        line.BeginArray();
        foreach (var failure in failures)
        {
            line.BeginObject();
            line.Member("cell"u8, failure.Cell);
            line.Member("reason"u8, failure.Reason);
            line.EndObject();
        }

        line.EndArray();
    }

    private static void Member(this JsonLine line, ReadOnlySpan<byte> name, long? value)
    {
        if (value is { } number)
        {
            line.Name(name);
            line.Number(number);
        }
    }

    private static void Member(this JsonLine line, ReadOnlySpan<byte> name, double? value)
    {
        if (value is { } number)
        {
            line.Name(name);
            line.Number(number);
        }
    }

    private static void Member(this JsonLine line, ReadOnlySpan<byte> name, bool value)
    {
        line.Name(name);
        line.Flag(value);
    }

    private static void Member(this JsonLine line, ReadOnlySpan<byte> name, string? value)
    {
        if (value is not null)
        {
            line.Name(name);
            line.Text(value);
        }
    }

    private static void Member(this JsonLine line, ReadOnlySpan<byte> name, IReadOnlyList<string> values)
    {
        line.Name(name);
        line.BeginArray();
        foreach (var value in values)
        {
            line.Text(value);
        }

        line.EndArray();
    }
}
