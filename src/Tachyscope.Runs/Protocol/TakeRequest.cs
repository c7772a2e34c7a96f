namespace Tachyscope.Protocol;

/// <summary>Parameters of <see cref="WorkerMethods.Take"/>.</summary>
sealed partial record TakeRequest
{
    /// <summary>The inputs; each takes the place of what was given under its index before.</summary>
    public required IReadOnlyList<GivenInput> Inputs { get; init; }
}
