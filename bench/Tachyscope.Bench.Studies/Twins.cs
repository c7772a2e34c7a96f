namespace Tachyscope.Bench.Studies;

/// <summary>Two variants that are equal and one that takes one per cent longer.</summary>
internal static class Twins
{
    public const string Equal = "equal";
    public const string Longer = "one per cent longer";

    public static Study Study => Tachyscope.Study
        .Of("twins")
        .Input("a number", () => 12_345)
        .Baseline("hundred links", Links.Hundred)
        .Variant(Equal, Links.HundredAgain)
        .Variant(Longer, Links.HundredAndOne)
        .Agree((_, _) => true);
}
