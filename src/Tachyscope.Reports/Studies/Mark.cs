namespace Tachyscope.Reports.Studies;

/// <summary>An estimate and its interval, to be drawn to scale.</summary>
/// <param name="Lower">Lower end, in nanoseconds.</param>
/// <param name="Estimate">The estimate, in nanoseconds.</param>
/// <param name="Upper">Upper end, in nanoseconds.</param>
public readonly record struct Mark(double Lower, double Estimate, double Upper);
