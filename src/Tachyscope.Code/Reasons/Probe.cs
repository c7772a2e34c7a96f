using Tachyscope.Code.Facts;
using Tachyscope.Code.Listings;

namespace Tachyscope.Code.Reasons;

/// <summary>A switch of the runtime that may take a reason away, so that it can be tested by measuring.</summary>
/// <param name="Kind">The reason.</param>
/// <param name="Switch">Name of the switch, without its DOTNET_ prefix.</param>
/// <param name="Value">Its value.</param>
public sealed record Probe(ReasonKind Kind, string Switch, string Value)
{
    /// <summary>The switches that are tried, in the order in which they are.</summary>
    public static IReadOnlyList<Probe> Catalogue { get; } =
    [
        new(ReasonKind.NoVectors, "EnableAVX2", "0"),
        new(ReasonKind.NarrowerVectors, "EnableAVX2", "0"),
        new(ReasonKind.NarrowerVectors, "EnableAVX512", "0"),
        new(ReasonKind.Calls, "JitNoInline", "1"),
        new(ReasonKind.IndirectCalls, "TieredPGO", "0"),
        new(ReasonKind.TypeChecks, "TieredPGO", "0"),
        new(ReasonKind.Branches, "TieredPGO", "0"),
        new(ReasonKind.Allocations, "JitObjectStackAllocation", "0"),
    ];

    /// <summary>Whether with the switch less is left of what set two codes apart, so that measuring can tell.</summary>
    /// <param name="slower">The slower code as it is.</param>
    /// <param name="faster">The faster code as it is.</param>
    /// <param name="slowerProbed">The slower code with the switch.</param>
    /// <param name="fasterProbed">The faster code with the switch.</param>
    public bool TakesAway(CodeTree slower, CodeTree faster, CodeTree slowerProbed, CodeTree fasterProbed)
        => Math.Abs(Difference(slowerProbed, fasterProbed)) < Math.Abs(Difference(slower, faster));

    /// <summary>Whether nothing of it is left with the switch.</summary>
    /// <param name="slowerProbed">The slower code with the switch.</param>
    /// <param name="fasterProbed">The faster code with the switch.</param>
    public bool IsGone(CodeTree slowerProbed, CodeTree fasterProbed) => Difference(slowerProbed, fasterProbed) == 0;

    private int Difference(CodeTree slower, CodeTree faster)
        => ReasonFinder.Amount(Kind, HotFacts.Of(slower)) - ReasonFinder.Amount(Kind, HotFacts.Of(faster));
}
