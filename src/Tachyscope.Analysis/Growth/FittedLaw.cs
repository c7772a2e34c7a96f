namespace Tachyscope.Analysis.Growth;

/// <summary>A law fitted to times.</summary>
/// <param name="Law">The law.</param>
/// <param name="WorstShare">How far it is off at its worst size, as a share of the time there.</param>
/// <param name="StepAfter">The last size before the step; null without one.</param>
/// <param name="StepFactor">How many times as long each takes after the step; 1 without one.</param>
public sealed record FittedLaw(GrowthLaw Law, double WorstShare, int? StepAfter = null, double StepFactor = 1);
