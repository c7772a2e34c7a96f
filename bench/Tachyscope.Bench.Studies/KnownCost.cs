using System.Runtime.CompilerServices;

namespace Tachyscope.Bench.Studies;

/// <summary>Chains of 1 to 256 links; every variant's name is its number of links.</summary>
internal static class KnownCost
{
    public static IReadOnlyList<(int Links, Func<int, int> Chain)> Chains { get; } =
    [
        (1, Links.Chain1), (2, Links.Chain2), (4, Links.Chain4), (8, Links.Chain8), (16, Links.Chain16),
        (32, Links.Chain32), (64, Links.Chain64), (128, Links.Chain128), (256, Links.Chain256),
    ];

    public static Study Study => Tachyscope.Study
        .Of("known cost")
        .Input("a number", () => 12_345)
        .Baseline("1", Links.Chain1)
        .Variant("2", Links.Chain2)
        .Variant("4", Links.Chain4)
        .Variant("8", Links.Chain8)
        .Variant("16", Links.Chain16)
        .Variant("32", Links.Chain32)
        .Variant("64", Links.Chain64)
        .Variant("128", Links.Chain128)
        .Variant("256", Links.Chain256)
        .Agree((_, _) => true);

    /// <summary>The same chains from a number inside an object: the input crosses memory.</summary>
    public static Study OfObjects => Tachyscope.Study
        .Of("known cost of objects")
        .Input("a number in an object", () => new StrongBox<int>(12_345))
        .Baseline("1", box => Links.Chain1(box.Value))
        .Variant("2", box => Links.Chain2(box.Value))
        .Variant("4", box => Links.Chain4(box.Value))
        .Variant("8", box => Links.Chain8(box.Value))
        .Variant("16", box => Links.Chain16(box.Value))
        .Agree((_, _) => true);

    /// <summary>The same chains whose result is a double: it changes registers.</summary>
    public static Study OfDoubles => Tachyscope.Study
        .Of("known cost of doubles")
        .Input("a number", () => 12_345)
        .Baseline("1", x => (double)Links.Chain1(x))
        .Variant("2", x => (double)Links.Chain2(x))
        .Variant("4", x => (double)Links.Chain4(x))
        .Variant("8", x => (double)Links.Chain8(x))
        .Variant("16", x => (double)Links.Chain16(x))
        .Agree((_, _) => true);
}
