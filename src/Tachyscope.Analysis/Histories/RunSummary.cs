using System.Globalization;
using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Targets;
using Tachyscope.Runs;

namespace Tachyscope.Analysis.Histories;

/// <summary>What is kept of a run so that it can be found again and compared without its readings.</summary>
public sealed record RunSummary
{
    /// <summary>Its number in the history; 0 where it is in none.</summary>
    public long Id { get; init; }

    /// <summary>The name it was given; null for none.</summary>
    public string? Label { get; init; }

    /// <summary>When measuring began.</summary>
    public required DateTimeOffset Started { get; init; }

    /// <summary>How far it got.</summary>
    public RunState State { get; init; }

    /// <summary>Version of the tool that measured.</summary>
    public required string Tool { get; init; }

    /// <summary>The command line; null when it was measured by a program.</summary>
    public string? Command { get; init; }

    /// <summary>Which code was measured.</summary>
    public CodeState Code { get; init; } = new();

    /// <summary>The machine, in words that are the same for machines that are alike.</summary>
    public required string Machine { get; init; }

    /// <summary>The runtime of its first target.</summary>
    public required string Runtime { get; init; }

    /// <summary>What was found of each of its cells; those that failed are left out.</summary>
    public IReadOnlyList<CellSummary> Cells { get; init; } = [];

    /// <summary>Summarises a run.</summary>
    /// <param name="run">The run.</param>
    /// <exception cref="ArgumentNullException"><paramref name="run"/> is null.</exception>
    public static RunSummary Of(Run run)
    {
        ArgumentNullException.ThrowIfNull(run);
        return Of(run,
            [.. run.Studies.Select(study => TargetAnalyst.Examine(run, study, new AnalysisOptions { AreContrastsOnly = true }))]);
    }

    /// <summary>Summarises a run that was examined already.</summary>
    /// <param name="run">The run.</param>
    /// <param name="found">What was found of its studies.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    public static RunSummary Of(Run run, IReadOnlyList<StudyOnTargets> found)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(found);
        return new RunSummary
        {
            Started = run.Started,
            State = run.State,
            Tool = run.Tool,
            Command = run.Command,
            Code = run.Code ?? new CodeState(),
            Machine = MachineOf(run),
            Runtime = run.Environment.Runtime,
            Cells = [.. from study in found
                let record = run.Studies.First(record => record.Study.Name == study.Targets[0].Study.Name)
                from target in Enumerable.Range(0, study.Targets.Count)
                let name = run.Targets.Count == 0 ? "" : run.Targets[target].Name
                let place = record.Study.Inputs.Select((input, index) => (input.Label, index)).ToDictionary()
                from input in study.Targets[target].Inputs
                from cell in input.Cells
                where cell.NanosecondsPerCall.IsKnown
                let work = CellWork.Of(record, cell.Row, place.GetValueOrDefault(input.Input.Label, -1), target)
                select CellSummary.Of(study.Targets[target], input, cell, name, work)],
        };
    }

    // Not its system's version, which changes every week and seldom a time.
    private static string MachineOf(Run run)
    {
        var quota = run.Machine.ProcessorQuota is { } share
            ? string.Create(CultureInfo.InvariantCulture, $" of which {share:0.##} at once") : "";
        var count = run.Machine.ProcessorCount;
        return $"{run.Machine.Processor}, {run.Environment.Architecture}, {count} processor{(count == 1 ? "" : "s")}{quota}";
    }
}
