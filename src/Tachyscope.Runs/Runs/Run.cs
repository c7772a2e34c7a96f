using System.Text.Json.Serialization;

namespace Tachyscope.Runs;

/// <summary>Everything one invocation measured, readings included: what is saved, compared and reported.</summary>
/// <remarks>The file format is described in docs/run-format.md.</remarks>
sealed partial record Run
{
    /// <summary>Value of <see cref="Format"/>.</summary>
    public const string FormatName = "tachyscope-run";

    /// <summary>Version of the format written here.</summary>
    public const int CurrentVersion = 3;

    /// <summary>Oldest version that is still read.</summary>
    public const int OldestVersion = 1;

    /// <summary>With what is meant where nothing is said.</summary>
    /// <param name="version"><see cref="Version"/>.</param>
    [JsonConstructor]
    public Run(int version = CurrentVersion) => Version = version;

    /// <summary>Always "tachyscope-run".</summary>
    public string Format { get; init => field = value ?? FormatName; } = FormatName;

    /// <summary>Version of the format.</summary>
    public int Version { get; init; }

    /// <summary>Version of the tool that measured.</summary>
    public required string Tool { get; init; }

    /// <summary>The command line that measured it; null when it was measured by a program.</summary>
    public string? Command { get; init; }

    /// <summary>When measuring began, in universal time.</summary>
    public required DateTimeOffset Started { get; init; }

    /// <summary>How far the run got.</summary>
    public required RunState State { get; init; }

    /// <summary>What it was asked to do.</summary>
    public required RunPlan Plan { get; init; }

    /// <summary>The machine it was measured on.</summary>
    public required MachineDescription Machine { get; init; }

    /// <summary>The machine's limits, as <c>survey --limits</c> measured them; null when it never did.</summary>
    public MachineLimits? Limits { get; init; }

    /// <summary>
    /// Cycles of a virtual call while a core of this machine was ours alone, as whoever measured before this run saw it; null when nobody
    /// did.
    /// </summary>
    public double? QuietCallCycles { get; init; }

    /// <summary>What the workers said of themselves.</summary>
    public required WorkerEnvironment Environment { get; init; }

    /// <summary>Which code was measured, on the first target; null where nothing tells.</summary>
    public CodeState? Code { get; init; }

    /// <summary>Which part of a planned run it is; null for a whole one.</summary>
    public RunShare? Share { get; init; }

    /// <summary>Its targets, the one others are compared with first; empty when it has but one.</summary>
    public IReadOnlyList<TargetDescription> Targets { get; init => field = value ?? []; } = [];

    /// <summary>
    /// How far the calendar clock moved beyond the time that passed while measuring, in seconds: it was set, or the machine slept.
    /// </summary>
    public double ClockStepSeconds { get; init; }

    /// <summary>Names of the numbers in a reading, in order.</summary>
    public IReadOnlyList<string> ReadingColumns { get; init => field = value ?? Runs.ReadingColumns.Names; } = Runs.ReadingColumns.Names;

    /// <summary>The studies, in the order they were measured.</summary>
    public required IReadOnlyList<StudyRecord> Studies { get; init; }
}
