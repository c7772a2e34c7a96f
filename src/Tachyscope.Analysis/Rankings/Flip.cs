namespace Tachyscope.Analysis.Rankings;

/// <summary>Two variants of which one is faster in some places and the other elsewhere.</summary>
/// <param name="Variant">The variant the places are told for.</param>
/// <param name="Other">The variant it is compared with.</param>
/// <param name="FasterAt">Where the first is faster: inputs, numbers of threads, element types.</param>
/// <param name="SlowerAt">Where it is slower.</param>
/// <param name="Pairs">Pairs of variants that turn round like that, this one counted.</param>
public sealed record Flip(string Variant, string Other, IReadOnlyList<string> FasterAt, IReadOnlyList<string> SlowerAt, int Pairs);
