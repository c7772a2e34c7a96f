namespace Tachyscope.Runs;

/// <summary>Where a run stands, for somebody who watches.</summary>
sealed partial record RunProgress
{
    /// <summary>Name of the study being measured.</summary>
    public required string Study { get; init; }

    /// <summary>Labels of the inputs being measured.</summary>
    public required IReadOnlyList<string> Inputs { get; init; }

    /// <summary>What is being done.</summary>
    public required RunStage Stage { get; init; }

    /// <summary>Number of the sitting, from 1; 0 before the first.</summary>
    public int Sitting { get; init; }

    /// <summary>Sittings planned; 0 when that depends on the precision reached.</summary>
    public int SittingsPlanned { get; init; }

    /// <summary>Share of the run that is done, from 0 to 1.</summary>
    public double ShareDone { get; init; }

    /// <summary>Time left, by what was seen so far; null before anything was.</summary>
    public TimeSpan? TimeLeft { get; init; }
}
