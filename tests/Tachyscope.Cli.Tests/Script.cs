using System.Text.Json;
using System.Text.Json.Serialization;
using Tachyscope.Protocol;
using Tachyscope.Runs;

namespace Tachyscope.Cli.Tests;

/// <summary>What a scripted worker is to answer: studies, times whose truth is known, noise from a seed, and faults.</summary>
public sealed record Script
{
    /// <summary>Name of the file beside the worker.</summary>
    public const string FileName = "script.json";

    public static JsonSerializerOptions Options { get; } = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>Seed of all noise.</summary>
    public int Seed { get; init; } = 1;

    public int Protocol { get; init; } = WorkerMethods.ProtocolVersion;

    public required IReadOnlyList<StudyDescription> Studies { get; init; }

    /// <summary>Mistakes of the project as a whole.</summary>
    public IReadOnlyList<string> Mistakes { get; init; } = [];

    public WorkerEnvironment Environment { get; init; } = new()
    {
        Runtime = ".NET 10.0.0", Architecture = "x64", IsOptimized = true, VectorBits = 256, Framework = "net10.0",
            ClockStepNanoseconds = 20, Processors = [0, 1],
    };

    /// <summary>What is true of the rows of every study, in their order; a row without an entry takes 100 ns.</summary>
    public IReadOnlyList<ScriptedRow> Rows { get; init; } = [];

    /// <summary>What stands for what every input holds; null where that is not told.</summary>
    public string? InputHash { get; init; }

    /// <summary>What is found of every cell that is looked at by itself.</summary>
    public DiagnoseReply Diagnosis { get; init; } = new();

    /// <summary>Relative deviation of a cell from sitting to sitting.</summary>
    public double SittingDeviation { get; init; } = 0.001;

    /// <summary>Relative deviation from reading to reading.</summary>
    public double ReadingDeviation { get; init; } = 0.005;

    /// <summary>What goes wrong, and when.</summary>
    public IReadOnlyList<ScriptedFault> Faults { get; init; } = [];
}

/// <summary>What is true of a row.</summary>
public sealed record ScriptedRow
{
    /// <summary>Time of a call on each input, in nanoseconds; the last for all others.</summary>
    public IReadOnlyList<double> Nanoseconds { get; init; } = [100];

    /// <summary>Bytes a call allocates.</summary>
    public double Bytes { get; init; }

    /// <summary>How much longer a call takes at the end of a sitting than at its begin, as a share.</summary>
    public double Drift { get; init; }

    /// <summary>How many times as long a call takes in about two of five processes, unless the compiler's profile is off.</summary>
    public double SecondSpeed { get; init; } = 1;

    /// <summary>What it answers, in words; null where that is not told.</summary>
    public string? Answer { get; init; }

    /// <summary>Why its answer is not the baseline's; null when it is.</summary>
    public string? Disagreement { get; init; }

    /// <summary>Share of a call spent in each stage it marks.</summary>
    public IReadOnlyDictionary<string, double> Stages { get; init; } = new Dictionary<string, double>();
}

/// <summary>Something that goes wrong when a worker is asked.</summary>
public sealed record ScriptedFault
{
    /// <summary>The request at which it happens; "start" for before any.</summary>
    public required string At { get; init; }

    public required FaultKind Kind { get; init; }

    /// <summary>Where the worker says it is then.</summary>
    public WorkerPlace Place { get; init; }

    /// <summary>Row whose cell it is in; null for a fault of no cell.</summary>
    public int? Row { get; init; }

    /// <summary>Index that goes with the place where it is no cell.</summary>
    public int Index { get; init; }

    /// <summary>Exit code, signal or number of megabytes.</summary>
    public int Number { get; init; }

    /// <summary>What is written, for a fault that writes.</summary>
    public string Text { get; init; } = "";

    /// <summary>Requests of that kind that go well first, over all workers of the project.</summary>
    public int After { get; init; }

    /// <summary>Whether it happens once only, over all workers of the project.</summary>
    public bool IsOnce { get; init; }
}

[JsonConverter(typeof(JsonStringEnumConverter<FaultKind>))]
public enum FaultKind
{
    /// <summary>Never answers.</summary>
    Hang,

    /// <summary>Never answers, and keeps a processor busy.</summary>
    Spin,

    /// <summary>Ends with an exit code.</summary>
    Exit,

    /// <summary>Is ended by a signal.</summary>
    Signal,

    /// <summary>Writes to standard error and answers.</summary>
    Say,

    /// <summary>Writes a line to the protocol and answers.</summary>
    Write,

    /// <summary>Writes megabytes without a line's end to standard error and answers.</summary>
    FloodError,

    /// <summary>Writes megabytes without a line's end to the protocol, then answers.</summary>
    FloodOutput,

    /// <summary>Answers with an error.</summary>
    Refuse,

    /// <summary>Closes the protocol and goes on.</summary>
    Close,

    /// <summary>Starts a process that outlives it, and answers.</summary>
    LeaveChild,
}
