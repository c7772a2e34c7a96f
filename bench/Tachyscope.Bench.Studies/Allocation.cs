namespace Tachyscope.Bench.Studies;

/// <summary>Operations that allocate a known number of bytes, which is their name.</summary>
internal static class Allocation
{
    private static object? s_kept;

    public static Study Study => Tachyscope.Study
        .Of("allocation")
        .Input("a number", () => 12_345)
        .Baseline("nothing: 0", x => Keep(null, x))
        .Variant("smallest object: 24", x => Keep(new object(), x))
        .Variant("object of three longs: 40", x => Keep(new ThreeLongs { First = x }, x))
        .Variant("boxed int: 24", x => Keep((object)x, x))
        .Variant("4 ints: 40", x => Keep(new int[4], x))
        .Variant("100 bytes: 128", x => Keep(new byte[100], x))
        .Variant("1,000 doubles: 8024", x => Keep(new double[1_000], x))
        .Variant("10 letters: 48", x => Keep(new string('-', 10), x))
        .Variant("two objects: 48", x => Keep(new object(), Keep(new object(), x)))
        .Variant("closure and delegate: 88", x => Keep((Func<int>)(() => x), x));

    // Kept where everybody can see it, so that no compiler may leave the object out.
    private static int Keep(object? made, int x)
    {
        Volatile.Write(ref s_kept, made);
        return x;
    }

    private sealed class ThreeLongs
    {
        public long First { get; init; }

        public long Second { get; init; }

        public long Third { get; init; }
    }
}
