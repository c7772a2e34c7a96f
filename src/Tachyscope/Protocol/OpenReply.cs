namespace Tachyscope.Protocol;

/// <summary>A worker's answer to <see cref="WorkerMethods.Open"/>.</summary>
public sealed record OpenReply
{
    /// <summary>Number of cells set up.</summary>
    public required int Cells { get; init; }
}
