using System.Text.Json;

namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Judge"/>.</summary>
sealed partial record JudgeRequest
{
    /// <summary>Name of the study.</summary>
    public required string Study { get; init; }

    /// <summary>Seed handed to input factories that take one.</summary>
    public required int Seed { get; init; }

    /// <summary>Index of the input.</summary>
    public required int Input { get; init; }

    /// <summary>Index of the guest's row that answered.</summary>
    public required int Variant { get; init; }

    /// <summary>Index of the row whose answer it must agree with.</summary>
    public required int Reference { get; init; }

    /// <summary>The guest's answer, as JSON.</summary>
    public required JsonElement Value { get; init; }
}
