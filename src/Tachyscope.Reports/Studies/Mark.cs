namespace Tachyscope.Reports.Studies;

/// <summary>A factor and its interval, to be drawn to scale.</summary>
/// <param name="Lower">Lower end, as a multiple of the baseline's time.</param>
/// <param name="Estimate">The estimate, likewise.</param>
/// <param name="Upper">Upper end, likewise.</param>
public readonly record struct Mark(double Lower, double Estimate, double Upper);
