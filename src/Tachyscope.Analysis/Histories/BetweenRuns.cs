namespace Tachyscope.Analysis.Histories;

/// <summary>How far two runs of the same code lie apart beyond what each knows of itself: another hour, another placement.</summary>
/// <param name="Variance">Variance of the difference of two runs' log times, beyond the variances within them.</param>
/// <param name="Freedom">Degrees of freedom of that estimate.</param>
/// <param name="Repeats">Pairs of runs of the same code that it was learnt from.</param>
/// <remarks>
/// The difference of two such runs has the variance within each and this one, so that the mean of what squared differences exceed the
/// former by, each weighted by what is known of it, estimates the latter (method of moments; DerSimonian and Laird, "Meta-analysis in
/// clinical trials", 1986). What was seen
/// on machines of this kind stands in for repeats where there are few, as <see cref="PriorFreedom"/> of them would.
/// </remarks>
public sealed record BetweenRuns(double Variance, double Freedom, int Repeats)
{
    /// <summary>Deviation of a difference of two runs in the quiet state, before any repeat was seen.</summary>
    public const double PriorQuietDeviation = 0.02;

    /// <summary>The same where the core is shared.</summary>
    public const double PriorSharedDeviation = 0.1;

    /// <summary>For how many repeats that stands.</summary>
    public const double PriorFreedom = 6;

    /// <summary>One deviation of a difference of two runs, as a share.</summary>
    public double DeviationShare => Math.Exp(Math.Sqrt(Variance)) - 1;

    /// <summary>Learns from repeats.</summary>
    /// <param name="repeats">Pairs of runs of the same code on machines that are alike.</param>
    /// <param name="isQuiet">Whether what is to be compared had the core to itself.</param>
    /// <param name="isMeant">Which cells count; all by default.</param>
    /// <exception cref="ArgumentNullException"><paramref name="repeats"/> is null.</exception>
    public static BetweenRuns Of(
        IEnumerable<(RunSummary One, RunSummary Other)> repeats, bool isQuiet, Func<CellSummary, bool>? isMeant = null)
    {
        ArgumentNullException.ThrowIfNull(repeats);
        var deviation = isQuiet ? PriorQuietDeviation : PriorSharedDeviation;
        var prior = deviation * deviation;
        // Cells of one pair share its hours: they are one observation together.
        (double Variance, double Weight)[] seen = [.. repeats.Select(pair => Excess(pair.One, pair.Other, prior, isQuiet, isMeant))
            .Where(pair => pair.Weight > 0)];
        var freedom = PriorFreedom + seen.Sum(pair => pair.Weight);
        return new BetweenRuns(
            Math.Max(0, ((PriorFreedom * prior) + seen.Sum(pair => pair.Weight * pair.Variance)) / freedom), freedom, seen.Length);
    }

    // What is known poorly within its runs tells next to nothing of what lies between them: the variance of a squared difference goes with
    // the square of its own.
    private static (double Variance, double Weight) Excess(
        RunSummary one, RunSummary other, double prior, bool isQuiet, Func<CellSummary, bool>? isMeant)
    {
        var others = other.Cells.ToDictionary(cell => cell.Name);
        (double Excess, double Weight)[] excesses = [.. one.Cells
            .Where(cell => cell.IsQuiet == isQuiet && isMeant?.Invoke(cell) != false)
            .Select(cell => (Cell: cell, Other: others.GetValueOrDefault(cell.Name)))
            .Where(pair => pair.Other?.IsQuiet == isQuiet && CellWork.Difference(pair.Cell.Work, pair.Other.Work) is not { IsInput: true })
            .Select(pair => CellDifference.Of(pair.Cell, pair.Other!, areMachinesAlike: true))
            .Select(difference => (Excess: (difference.LogRatio * difference.LogRatio) - difference.VarianceWithin,
                Weight: Math.Pow(prior / (difference.VarianceWithin + prior), 2)))
            .Where(cell => double.IsFinite(cell.Excess))];
        return excesses.Length == 0 ? (0, 0)
            : (excesses.Sum(cell => cell.Weight * cell.Excess) / excesses.Sum(cell => cell.Weight), excesses.Max(cell => cell.Weight));
    }
}
