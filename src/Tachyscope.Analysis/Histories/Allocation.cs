namespace Tachyscope.Analysis.Histories;

/// <summary>Whether bytes per call differ: they are counted, so that any difference is one.</summary>
public static class Allocation
{
    // Less than a byte is a rounding of means.
    private const double Least = 0.5;

    /// <summary>Whether there is more of it now.</summary>
    /// <param name="before">Bytes per call then.</param>
    /// <param name="now">Bytes per call now.</param>
    public static bool IsMore(double before, double now) => now - before >= Least;

    /// <summary>Whether the two differ.</summary>
    /// <param name="one">Bytes per call of the one.</param>
    /// <param name="other">Bytes per call of the other.</param>
    public static bool Differs(double one, double other) => Math.Abs(one - other) >= Least;
}
