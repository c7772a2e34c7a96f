namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Inspect"/>.</summary>
sealed partial record InspectRequest
{
    /// <summary>Name of the study.</summary>
    public required string Study { get; init; }

    /// <summary>Seed handed to input factories that take one.</summary>
    public required int Seed { get; init; }
}
