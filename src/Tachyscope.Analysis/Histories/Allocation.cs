namespace Tachyscope.Analysis.Histories;

/// <summary>Whether bytes per call differ: they are counted, so that any difference is one.</summary>
internal static class Allocation
{
    // Less than a byte is a rounding of means.
    private const double Least = 0.5;

    public static bool IsMore(double before, double now) => now - before >= Least;

    public static bool Differs(double one, double other) => Math.Abs(one - other) >= Least;
}
