namespace Tachyscope.History;

/// <summary>Which runs of a history are meant; all by default, the newest first.</summary>
public sealed record RunQuery
{
    /// <summary>The study they have to hold; null for any.</summary>
    public string? Study { get; init; }

    /// <summary>The machine they were measured on, as <see cref="Analysis.Histories.RunSummary.Machine"/> says it; null for any.</summary>
    public string? Machine { get; init; }

    /// <summary>The label they bear; null for any or none.</summary>
    public string? Label { get; init; }

    /// <summary>What their commit begins with; null for any or none.</summary>
    public string? Commit { get; init; }

    /// <summary>The branch they were measured on; null for any or none.</summary>
    public string? Branch { get; init; }

    /// <summary>Only those saved before this one; null for the newest.</summary>
    public long? BeforeId { get; init; }

    /// <summary>So many of them at most.</summary>
    public int Most { get; init; } = int.MaxValue;
}
