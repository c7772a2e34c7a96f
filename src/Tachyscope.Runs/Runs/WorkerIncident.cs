namespace Tachyscope.Runs;

/// <summary>Something that befell a worker and cost no cell its figures.</summary>
sealed partial record WorkerIncident
{
    /// <summary>What happened.</summary>
    public required WorkerIncidentKind Kind { get; init; }

    /// <summary>The evidence, in a few words.</summary>
    public required string Evidence { get; init; }
}
