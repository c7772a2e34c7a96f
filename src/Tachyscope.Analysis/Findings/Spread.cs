namespace Tachyscope.Analysis.Findings;

/// <summary>
/// How much of a figure's spread belongs to which level of repetition, each as a standard deviation in shares of the figure.
/// </summary>
public sealed record Spread
{
    /// <summary>From round to round of one copy in one process; NaN when that is not known.</summary>
    public double RoundShare { get; init; } = double.NaN;

    /// <summary>From copy to copy of the code in one process: how it happened to be placed; NaN where there was one copy.</summary>
    public double CopyShare { get; init; } = double.NaN;

    /// <summary>From process to process, beyond what rounds and copies make of it.</summary>
    public double SittingShare { get; init; } = double.NaN;
}
