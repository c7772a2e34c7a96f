namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Hear"/>.</summary>
sealed partial record HearReply
{
    /// <summary>What the runtime's compiler decided since the last answer, oldest first; nothing in the first.</summary>
    public required IReadOnlyList<InliningDecision> Inlinings { get; init; }
}
