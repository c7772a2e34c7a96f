namespace Tachyscope.Analysis.Statistics;

/// <summary>Intervals of samples that grew until the interval was narrow enough.</summary>
/// <remarks>
/// Such a sample ends early when its spread happens to look small, so that fixed-sample intervals hold the truth too rarely (Anscombe,
/// "Large-sample theory of sequential estimation", 1952; Chow and Robbins, 1965). Reading them, and stopping, at a higher
/// level makes up for it: the share of the error was chosen among 0.4, 0.5, 0.6 and 1 on normal values, as the largest that held
/// the truth. In simulated runs with a machine's noise the intervals of runs that ended themselves held it in 94.8 %, and in 92.2 %
/// read as if they had not (500 runs; `answers` in bench/).
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
