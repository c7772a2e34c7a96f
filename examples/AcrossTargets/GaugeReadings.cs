using System.Runtime.InteropServices;
using Tachyscope;

/// <summary>
/// Adding up what a tide gauge read, over the ways there are to go through it: what each costs changes from runtime to runtime.
/// </summary>
internal static class GaugeReadings
{
    public static Study Study => Tachyscope.Study
        .Of("add up gauge readings")
        .Inputs("readings", [1_024], (count, seed) => Read(count, seed))
        .Baseline("array", gauge => OverArray(gauge.Array))
        .Variant("list", gauge => OverList(gauge.List))
        .Variant("span of the list", gauge => OverSpan(gauge.List))
        .Variant("as a sequence", gauge => OverSequence(gauge.Array))
        .Variant("query", gauge => gauge.Array.Where(level => level > 0).Sum());

    private static (int[] Array, List<int> List) Read(int count, int seed)
    {
        var random = new Random(seed);
        int[] levels = [.. Enumerable.Range(0, count).Select(_ => random.Next(1, 900))];
        return (levels, [.. levels]);
    }

    private static int OverArray(int[] levels)
    {
        var sum = 0;
        foreach (var level in levels)
        {
            sum += level;
        }

        return sum;
    }

    private static int OverList(List<int> levels)
    {
        var sum = 0;
        foreach (var level in levels)
        {
            sum += level;
        }

        return sum;
    }

    private static int OverSpan(List<int> levels)
    {
        var sum = 0;
        foreach (var level in CollectionsMarshal.AsSpan(levels))
        {
            sum += level;
        }

        return sum;
    }

    private static int OverSequence(IEnumerable<int> levels)
    {
        var sum = 0;
        foreach (var level in levels)
        {
            sum += level;
        }

        return sum;
    }
}
