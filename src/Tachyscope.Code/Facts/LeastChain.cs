namespace Tachyscope.Code.Facts;

/// <summary>What a chain of results that hang on one another takes at least.</summary>
/// <param name="Cycles">Cycles of the processor's clock, each time.</param>
/// <param name="IsOfCall">Whether it leads from call to call of the operation; from round to round of its innermost loop otherwise.</param>
public sealed record LeastChain(double Cycles, bool IsOfCall);
