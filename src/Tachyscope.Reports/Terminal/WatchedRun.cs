namespace Tachyscope.Reports.Terminal;

/// <summary>Where a run stands, in the words a watcher needs.</summary>
public sealed record WatchedRun
{
    /// <summary>Name of the study being measured.</summary>
    public required string Study { get; init; }

    /// <summary>Labels of the inputs being measured.</summary>
    public required IReadOnlyList<string> Inputs { get; init; }

    /// <summary>What is being done, such as "reading".</summary>
    public required string Stage { get; init; }

    /// <summary>Number of the sitting, from 1; 0 before the first.</summary>
    public int Sitting { get; init; }

    /// <summary>Sittings planned; 0 when that is open.</summary>
    public int SittingsPlanned { get; init; }

    /// <summary>Share of the run that is done, from 0 to 1.</summary>
    public double ShareDone { get; init; }

    /// <summary>Time left; null when not known yet.</summary>
    public TimeSpan? TimeLeft { get; init; }
}
