namespace Tachyscope.Runs;

/// <summary>One of the targets of a run.</summary>
sealed partial record TargetDescription
{
    /// <summary>What it is called: its name, or its recipe as it was written.</summary>
    public required string Name { get; init; }

    /// <summary>What its workers said of themselves.</summary>
    public required WorkerEnvironment Environment { get; init; }

    /// <summary>Machine it was measured on, where targets were measured on machines of several kinds; null for the run's.</summary>
    public MachineDescription? Machine { get; init; }

    /// <summary>Version of the C# compiler that its assembly says it was made by; null where it does not say.</summary>
    public string? Compiler { get; init; }

    /// <summary>Commit it was taken from, or that its work tree stands at; null outside a repository.</summary>
    public string? Commit { get; init; }

    /// <summary>Whether it is a work tree that holds changes which are in no commit.</summary>
    public bool IsDirty { get; init; }

    /// <summary>Runtime switches it asked for.</summary>
    public IReadOnlyList<SwitchState> Switches { get; init => field = value ?? []; } = [];
}
