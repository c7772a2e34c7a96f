namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Inspect"/>.</summary>
public sealed record InspectReply
{
    /// <summary>What is wrong with the inputs, each with its way out; empty when sound.</summary>
    public required IReadOnlyList<string> Mistakes { get; init; }
}
