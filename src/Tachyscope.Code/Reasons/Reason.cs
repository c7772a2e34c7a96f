namespace Tachyscope.Code.Reasons;

/// <summary>Something that the code of a slower variant has, and that of a faster one has not, or less of.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Slower">How much of it the slower one has.</param>
/// <param name="Faster">How much of it the faster one has.</param>
/// <param name="Cycles">A rough idea of what the difference takes each time round, in cycles; only to tell much from little.</param>
public sealed record Reason(ReasonKind Kind, int Slower, int Faster, double Cycles);
