namespace Tachyscope.Bench.Studies;

/// <summary>Two operations that take one per cent longer where the symbol LONGER is defined.</summary>
internal static class AcrossTargets
{
    private const int Levels = 2_000;

    public static Study Study => Tachyscope.Study
        .Of("across targets")
        .Input("two thousand numbers", () => Enumerable.Range(0, Levels + (Levels / 100)).ToArray())
        .Baseline("links", numbers => Chain(numbers[7]))
        .Variant("sum", Sum)
        .Agree((_, _) => true);

#if LONGER
    private const int Summed = Levels + (Levels / 100);

    private static int Chain(int x) => Links.HundredAndOne(x);
#else
    private const int Summed = Levels;

    private static int Chain(int x) => Links.Hundred(x);
#endif

    private static int Sum(int[] numbers)
    {
        var sum = 0;
        for (var i = 0; i < Summed; i++)
        {
            sum = (sum * 3) + numbers[i];
        }

        return sum;
    }
}
