namespace Tachyscope.Analysis.Growth;

/// <summary>Two rows at one size.</summary>
/// <param name="Size">The size.</param>
/// <param name="OtherTimes">Times of the second row, in nanoseconds, as a series over sittings.</param>
/// <param name="LogRatios">Logs of the first's over the second's, as a series.</param>
internal sealed record CrossingPoint(int Size, double[] OtherTimes, double[] LogRatios)
{
    public double OwnTime(int sitting) => OtherTimes[sitting] * Math.Exp(LogRatios[sitting]);
}
