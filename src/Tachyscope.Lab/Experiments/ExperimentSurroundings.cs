using Tachyscope.Lab.Machines;
using Tachyscope.Runs;

namespace Tachyscope.Lab.Experiments;

/// <summary>All that an experiment needs from outside: the clock, those who watch, and the judge of precision.</summary>
public sealed record ExperimentSurroundings
{
    /// <summary>The clock; the system's by default.</summary>
    public TimeProvider Clock { get; init; } = TimeProvider.System;

    /// <summary>The machine, as the run is to describe it.</summary>
    public required MachineDescription Machine { get; init; }

    /// <summary>The machine's limits, if they were ever measured.</summary>
    public MachineLimits? Limits { get; init; }

    /// <summary>Cycles of a virtual call while a core of the machine was ours alone, as earlier runs saw it; null when none did.</summary>
    public double? QuietCallCycles { get; init; }

    /// <summary>What earlier runs saw of this machine's gauge; null when nothing is remembered.</summary>
    public IGaugeMemory? Gauges { get; init; }

    /// <summary>Chooses, of the processors that all workers may use, those that rounds go over; those that are alike by default.</summary>
    public Func<IReadOnlyList<int>, IReadOnlyList<int>> ProcessorsAlike { get; init; } = new ProcessorChoice().Alike;

    /// <summary>Version of the tool, as the run is to state it.</summary>
    public required string Tool { get; init; }

    /// <summary>Whether a cell is measured, by its study and the indices of its variant and input; all are by default.</summary>
    public Func<StudyDescription, int, int, bool>? IsCellMeant { get; init; }

    /// <summary>Whether what rows answer is kept with the run however many numbers it holds, to be compared with what they answer on
    /// another machine, and not with up to a thousand of them, to be compared with other runs; false by default.</summary>
    public bool AreAnswersKeptWhole { get; init; }

    /// <summary>Told where the run stands, a few times a second.</summary>
    public IProgress<RunProgress>? Progress { get; init; }

    /// <summary>Given the run so far, once after every sitting.</summary>
    public Action<Run>? Save { get; init; }

    /// <summary>Told of each study when it is done.</summary>
    public Action<Run, StudyRecord>? StudyDone { get; init; }

    /// <summary>Given the run and the study so far, after the first rounds of all and after every sitting.</summary>
    public Action<Run, StudyRecord>? SittingDone { get; init; }

    /// <summary>How far the contrasts of a study are known; not at all by default.</summary>
    public Func<Run, StudyRecord, Standing> Judge { get; init; } = static (_, _) => new Standing();
}
