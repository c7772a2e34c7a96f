namespace Tachyscope.Runs;

/// <summary>What a worker process says of itself: the ground under its readings.</summary>
sealed partial record WorkerEnvironment
{
    /// <summary>Runtime and version, such as ".NET 10.0.12".</summary>
    public required string Runtime { get; init; }

    /// <summary>Processor architecture of the process, such as "x64".</summary>
    public required string Architecture { get; init; }

    /// <summary>Whether every assembly of the study was compiled with optimisation.</summary>
    public bool IsOptimized { get; init; }

    /// <summary>Names of the assemblies compiled without optimisation.</summary>
    public IReadOnlyList<string> UnoptimizedAssemblies { get; init => field = value ?? []; } = [];

    /// <summary>Whether a debugger was attached.</summary>
    public bool IsDebuggerAttached { get; init; }

    /// <summary>Whether the process was started for a profiler.</summary>
    public bool IsProfilerAttached { get; init; }

    /// <summary>Smallest step of the clock, in nanoseconds.</summary>
    public double ClockStepNanoseconds { get; init; }

    /// <summary>Width of the widest vector the runtime uses, in bits.</summary>
    public int VectorBits { get; init; }

    /// <summary>Instruction sets its machine code may use beyond the least of its architecture; empty where it does not tell.</summary>
    public IReadOnlyList<string> InstructionSets { get; init => field = value ?? []; } = [];

    /// <summary>Whether the server collector is in use.</summary>
    public bool IsServerGc { get; init; }

    /// <summary>Whether the collector works beside the program too, in a thread of its own.</summary>
    public bool IsConcurrentGc { get; init; }

    /// <summary>Framework the study was compiled for, such as "net8.0"; null where the program does not say.</summary>
    public string? Framework { get; init; }

    /// <summary>Whether its machine code was made ahead of time, and not while it runs.</summary>
    public bool IsAheadOfTime { get; init; }

    /// <summary>Processors the process may run on; empty where the system does not tell.</summary>
    public IReadOnlyList<int> Processors { get; init => field = value ?? []; } = [];

    /// <summary>Runtime switches set in the environment, as NAME=VALUE.</summary>
    public IReadOnlyList<string> Switches { get; init => field = value ?? []; } = [];
}
