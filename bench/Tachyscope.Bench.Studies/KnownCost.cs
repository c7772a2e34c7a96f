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
}
