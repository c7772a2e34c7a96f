namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Check"/>.</summary>
sealed partial record CheckRequest
{
    /// <summary>Name of the study.</summary>
    public required string Study { get; init; }

    /// <summary>Seed handed to input factories that take one.</summary>
    public required int Seed { get; init; }

    /// <summary>Index of the input.</summary>
    public required int Input { get; init; }

    /// <summary>Index of the variant whose answer is asked for.</summary>
    public required int Variant { get; init; }

    /// <summary>Index of the variant whose answer it must agree with.</summary>
    public required int Reference { get; init; }

    /// <summary>Whether the answer itself is asked for, to be compared with that of another target.</summary>
    public bool IsAnswerWanted { get; init; }
}
