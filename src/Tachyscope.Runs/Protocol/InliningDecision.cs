namespace Tachyscope.Protocol;

/// <summary>Whether the runtime's compiler put a method into another instead of calling it.</summary>
sealed partial record InliningDecision
{
    /// <summary>The method that was compiled, as <c>Type:Method</c>.</summary>
    public required string Into { get; init; }

    /// <summary>The method called, as <c>Type:Method</c>.</summary>
    public required string Callee { get; init; }

    /// <summary>Why it was left out, in the compiler's own words; null when it was put in.</summary>
    public string? Refused { get; init; }
}
