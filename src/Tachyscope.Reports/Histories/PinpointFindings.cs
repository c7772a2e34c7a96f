using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Reports.Histories;

/// <summary>What a search for the commit that changed a cell came to.</summary>
public sealed record PinpointFindings
{
    /// <summary>The cell's study.</summary>
    public required string Study { get; init; }

    /// <summary>The cell's row and input, as reports name it.</summary>
    public required string Cell { get; init; }

    /// <summary>The earlier revision, as it was asked for.</summary>
    public required string Good { get; init; }

    /// <summary>The later revision, as it was asked for.</summary>
    public required string Bad { get; init; }

    /// <summary>The study project, as it was asked for; the current folder by default.</summary>
    public string Project { get; init; } = ".";

    /// <summary>Revision whose study was laid over every commit, or now for that of the work tree; null for each commit's own.</summary>
    public string? StudyRevision { get; init; }

    /// <summary>Whether bytes per call were followed rather than time.</summary>
    public bool IsByBytes { get; init; }

    /// <summary>Time at the first commit after the change as a multiple of that at the last before it.</summary>
    public Interval TimeRatio { get; init; } = Interval.Unknown(0.95);

    /// <summary>Time at the later revision as a multiple of that at the earlier.</summary>
    public Interval WholeRatio { get; init; } = Interval.Unknown(0.95);

    /// <summary>Bytes per call at the last commit before the change.</summary>
    public double BytesBefore { get; init; }

    /// <summary>Bytes per call at the first after it.</summary>
    public double Bytes { get; init; }

    /// <summary>Bytes per call at the earlier revision.</summary>
    public double WholeBytesBefore { get; init; }

    /// <summary>Bytes per call at the later revision.</summary>
    public double WholeBytes { get; init; }

    /// <summary>The last commit known to lie before the change.</summary>
    public required string Before { get; init; }

    /// <summary>The first known to lie after it.</summary>
    public required string Commit { get; init; }

    /// <summary>The day it was made.</summary>
    public required string Date { get; init; }

    /// <summary>First line of its message.</summary>
    public required string Subject { get; init; }

    /// <summary>Whether it joins branches.</summary>
    public bool IsMerge { get; init; }

    /// <summary>Commits searched, the later revision counted and the earlier not.</summary>
    public int Commits { get; init; }

    /// <summary>Commits that were measured, both revisions counted.</summary>
    public int Measured { get; init; }

    /// <summary>Commits that compile to the same code as one that was measured.</summary>
    public int SameCode { get; init; }

    /// <summary>Commits between the two that could not be told, and why; empty where the search came to its end.</summary>
    public IReadOnlyList<(string Commit, string Reason)> Untold { get; init; } = [];

    /// <summary>Further commits between the two, which may be the one as well as far as was told in the time.</summary>
    public int Open { get; init; }

    /// <summary>Whether one commit is found, and its change is sure.</summary>
    public bool IsFound => Untold.Count == 0 && Open == 0 && IsChangeSure;

    /// <summary>Whether the two on either side surely differ.</summary>
    public bool IsChangeSure
        => IsByBytes ? Math.Abs(Bytes - BytesBefore) > 0 : TimeRatio.IsBounded && (TimeRatio.Lower > 1 || TimeRatio.Upper < 1);

    /// <summary>How much of the whole change it is, as a share; above 1 where others took some of it back.</summary>
    public double ShareOfWhole => IsByBytes
        ? (Bytes - BytesBefore) / (WholeBytes - WholeBytesBefore)
        : Math.Log(TimeRatio.Estimate) / Math.Log(WholeRatio.Estimate);
}
