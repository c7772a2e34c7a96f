namespace Tachyscope.Analysis.Statistics;

/// <summary>Levels for a family of comparisons that are to hold together.</summary>
/// <param name="Tests">The level of each test, by <see cref="Holm"/>; that of the family for one that was not made.</param>
/// <param name="Quoted">The level of every interval whose ends are quoted: 1 − (1 − level) / k for k tests made (Bonferroni).</param>
public sealed record FamilyLevels(IReadOnlyList<double> Tests, double Quoted)
{
    // An interval that is its estimate alone is none.
    private const double LeastLevel = 0.01;

    /// <summary>
    /// The level of every interval of which one end decides: each end holds by itself, together with those of the other tests, as often as
    /// both ends of one that is quoted do (Bonferroni; one-sided confidence limits).
    /// </summary>
    public double OneSided => Math.Max(LeastLevel, 1 - (2 * (1 - Quoted)));

    /// <summary>The levels for some tests.</summary>
    /// <param name="probabilities">Each test's probability of so large a difference by chance; NaN for one that was not made.</param>
    /// <param name="level">Level of the family, such as 0.95.</param>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="level"/> is not between 0 and 1.</exception>
    public static FamilyLevels Of(IReadOnlyList<double> probabilities, double level)
    {
        var tests = Holm.Levels(probabilities, level);
        return new FamilyLevels(tests, 1 - ((1 - level) / Math.Max(1, probabilities.Count(probability => !double.IsNaN(probability)))));
    }
}
