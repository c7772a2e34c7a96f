namespace Tachyscope.Analysis.Histories;

/// <summary>By what a cell did other work in a later run than in an earlier one, so that their times say nothing of the code.</summary>
/// <param name="IsInput">Whether it was given another input; else it answers otherwise.</param>
/// <param name="Before">What it answered, in a few words; null where that is not known.</param>
/// <param name="Now">What it answers.</param>
public sealed record WorkDifference(bool IsInput, string? Before, string? Now);
