namespace Tachyscope.Runs;

/// <summary>All that was measured of one study.</summary>
sealed partial record StudyRecord
{
    /// <summary>The study as its worker described it.</summary>
    public required StudyDescription Study { get; init; }

    /// <summary>Its sittings, in the order they were held.</summary>
    public required IReadOnlyList<SittingRecord> Sittings { get; init; }

    /// <summary>Cells without figures, and why.</summary>
    public IReadOnlyList<CellFailure> Failures { get; init => field = value ?? []; } = [];

    /// <summary>What was noticed while answers were compared.</summary>
    public IReadOnlyList<CellObservation> Observations { get; init => field = value ?? []; } = [];

    /// <summary>What was found of cells in processes of their own; empty when the run was not asked to.</summary>
    public IReadOnlyList<CellDiagnosis> Diagnoses { get; init => field = value ?? []; } = [];

    /// <summary>What befell workers and cost no cell its figures.</summary>
    public IReadOnlyList<WorkerIncident> Incidents { get; init => field = value ?? []; } = [];

    /// <summary>What its rows answered, of long ones without their numbers unless it is a share of a plan for several kinds of machine,
    /// whose answers are compared when they are merged; null in runs of tools that did not keep them.</summary>
    public IReadOnlyList<CellAnswer>? Answers { get; init; }

    /// <summary>Why sittings ended early although there was time; null when they did not.</summary>
    public string? Note { get; init; }
}
