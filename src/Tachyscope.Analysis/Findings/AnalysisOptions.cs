namespace Tachyscope.Analysis.Findings;

/// <summary>How a run is to be read.</summary>
public sealed record AnalysisOptions
{
    /// <summary>The defaults.</summary>
    public static AnalysisOptions Default { get; } = new();

    /// <summary>Share of intervals that hold the true value; 0.95 by default, adjusted within a table by the number of contrasts.</summary>
    public double IntervalLevel { get; init; } = 0.95;

    /// <summary>Smallest difference that matters, as a share; null for the run's own.</summary>
    public double? MarginShare { get; init; }

    /// <summary>What each row is compared with; the baseline by default.</summary>
    public Against Against { get; init; }

    /// <summary>Index of the target whose cells are looked at; the first by default.</summary>
    public int Target { get; init; }

    /// <summary>Whether only contrasts and times are asked for, as while measuring goes on; false by default.</summary>
    public bool AreContrastsOnly { get; init; }

    /// <summary>Everything that is wrong with these options, one sentence each.</summary>
    public IReadOnlyList<string> Validate()
    {
        var problems = new List<string>();
        if (!(IntervalLevel > 0 && IntervalLevel < 1))
        {
            problems.Add(FormattableString.Invariant($"IntervalLevel is {IntervalLevel}; it lies between 0 and 1, such as 0.95."));
        }

        if (MarginShare is { } margin && !(margin > 0 && margin < 1))
        {
            problems.Add(FormattableString.Invariant($"MarginShare is {margin}; it lies between 0 and 1, such as 0.01."));
        }

        return problems;
    }
}
