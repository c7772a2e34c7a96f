namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Input"/>.</summary>
sealed partial record InputRequest
{
    /// <summary>Name of the study.</summary>
    public required string Study { get; init; }

    /// <summary>Seed handed to input factories that take one.</summary>
    public required int Seed { get; init; }

    /// <summary>Index of the input.</summary>
    public required int Input { get; init; }

    /// <summary>Index of the guest's row it is sent to.</summary>
    public required int Variant { get; init; }
}
