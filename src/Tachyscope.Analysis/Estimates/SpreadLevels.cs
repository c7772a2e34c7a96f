using Tachyscope.Analysis.Findings;
using Tachyscope.Analysis.Statistics;

namespace Tachyscope.Analysis.Estimates;

/// <summary>
/// Parts the spread of one figure over rounds, copies and sittings: nested levels, each estimated by what differs within the one above.
/// </summary>
/// <remarks>
/// Searle, Casella and McCulloch, "Variance components", 1992: by the means of each level, what comes of the level below taken out; where
/// less than nothing is left, there is nothing.
/// </remarks>
internal static class SpreadLevels
{
    /// <summary>Parts a figure's spread.</summary>
    /// <param name="sittings">For each sitting, for each copy of the code, the figure's logarithm in every round.</param>
    public static Spread Of(IReadOnlyList<IReadOnlyList<double[]>> sittings)
    {
        var copies = sittings.SelectMany(sitting => sitting).Where(rounds => rounds.Length > 1).ToList();
        var ofRounds = SampleStatistics.Mean([.. copies.Select(rounds => Square(SampleStatistics.NormalDeviation(rounds)))]);
        var inMiddles = SampleStatistics.Mean([.. copies.Select(rounds
            => ofRounds * Square(SampleStatistics.MiddleHalfErrors(rounds.Length)) / rounds.Length)]);
        double[][] middles = [.. sittings.Select(sitting => sitting.Select(rounds => SampleStatistics.MiddleHalf(rounds)).ToArray())];
        var several = middles.Where(sitting => sitting.Length > 1).ToList();
        var amongCopies = several.Count == 0 ? double.NaN
            : Math.Max(0, SampleStatistics.Mean([.. several.Select(sitting => Square(SampleStatistics.Deviation(sitting)))]) - inMiddles);
        var perSitting = middles.Length == 0 ? double.NaN : middles.Average(sitting => (double)Math.Max(1, sitting.Length));
        var below = (inMiddles + (double.IsNaN(amongCopies) ? 0 : amongCopies)) / perSitting;
        double[] means = [.. middles.Select(sitting => SampleStatistics.Mean(sitting))];
        var ofSittings = Math.Max(0, Square(SampleStatistics.Deviation(means)) - below);
        return new Spread
        {
            RoundShare = Share(ofRounds), CopyShare = Share(amongCopies), SittingShare = Share(ofSittings),
        };
    }

    private static double Share(double variance) => Math.Exp(Math.Sqrt(variance)) - 1;

    private static double Square(double value) => value * value;
}
