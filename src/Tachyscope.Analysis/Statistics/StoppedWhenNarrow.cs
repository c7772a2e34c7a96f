namespace Tachyscope.Analysis.Statistics;

/// <summary>Intervals of samples that grew until the interval was narrow enough.</summary>
/// <remarks>
/// Such a sample ends early when its spread happens to look small, so that fixed-sample intervals hold the truth too rarely (Anscombe,
/// "Large-sample theory of sequential estimation", 1952; Chow and Robbins, 1965). Reading them, and stopping, at a higher
/// level makes up for it: with 0.6 of the error the truth was held in 95.5 to 97.3 % of simulated runs of 6 to 40 sittings at 95 %,
/// where the plain intervals held it in 92.8 to 95.3 % (`answers` in bench/).
/// </remarks>
public static class StoppedWhenNarrow
{
    private const double ErrorShare = 0.6;

    /// <summary>The level to read intervals at, and to stop by, so that they hold the truth at the level asked for.</summary>
    /// <param name="level">The level asked for, such as 0.95.</param>
    public static double Level(double level)
    {
        EdgeRules.CheckLevel(level);
        return 1 - (ErrorShare * (1 - level));
    }
}
