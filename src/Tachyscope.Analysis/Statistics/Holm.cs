namespace Tachyscope.Analysis.Statistics;

/// <summary>Holm's step-down adjustment for a family of tests, 1979.</summary>
public static class Holm
{
    /// <summary>
    /// The level at which each interval of a family is to be read, so that what they claim together is false at most once in 1 / (1 −
    /// level) families.
    /// </summary>
    /// <param name="probabilities">Each test's probability of so large a difference by chance; NaN for one that was not made.</param>
    /// <param name="level">Level of the family, such as 0.95.</param>
    /// <remarks>
    /// With k tests in rising order of their probabilities, the i-th (from 0) is made at α / (k − i) with α = 1 − level, and
    /// the first that fails ends it: all from there on stand at the level at which it failed. Holm, "A simple sequentially
    /// rejective multiple test procedure", 1979. An interval at that level leaves out "no difference" exactly when the
    /// test claims one.
    /// </remarks>
    /// <returns>Levels, in the order of <paramref name="probabilities"/>; that of the family for tests that were not made.</returns>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="level"/> is not between 0 and 1.</exception>
    public static IReadOnlyList<double> Levels(IReadOnlyList<double> probabilities, double level)
    {
        ArgumentNullException.ThrowIfNull(probabilities);
        EdgeRules.CheckLevel(level);
        var levels = new double[probabilities.Count];
        Array.Fill(levels, level);
        int[] made = [.. Enumerable.Range(0, levels.Length).Where(index => !double.IsNaN(probabilities[index]))
            .OrderBy(index => probabilities[index])];
        var alpha = 1 - level;
        var step = 0;
        for (var i = 0; i < made.Length; i++)
        {
            var allowed = alpha / (made.Length - step);
            levels[made[i]] = 1 - allowed;
            step += step == i && probabilities[made[i]] < allowed ? 1 : 0;
        }

        return levels;
    }
}
