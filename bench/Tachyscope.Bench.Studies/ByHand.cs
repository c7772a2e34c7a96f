using System.Diagnostics;
using System.Globalization;

namespace Tachyscope.Bench.Studies;

/// <summary>What many write when they have no instrument: a loop around a stopwatch, one variant after the other.</summary>
internal static class ByHand
{
    private const int Batches = 20;
    private static int s_sink;

    /// <summary>Prints one line per variant: its name, then the nanoseconds per call of each batch.</summary>
    public static void Run(string study, double seconds)
    {
        (string Name, Func<int, int> Operation)[] variants = study == "twins"
            ? [("hundred links", Links.Hundred), (Twins.Equal, Links.HundredAgain), (Twins.Longer, Links.HundredAndOne)]
            : [.. KnownCost.Chains.Select(chain => (chain.Links.ToString(CultureInfo.InvariantCulture), chain.Chain))];
        foreach (var (name, operation) in variants)
        {
            var batches = Measure(operation, seconds / variants.Length);
            Console.WriteLine($"{name}\t{string.Join('\t', batches.Select(batch => batch.ToString("R", CultureInfo.InvariantCulture)))}");
        }
    }

    private static double[] Measure(Func<int, int> operation, double seconds)
    {
        var calls = 1_000;
        var perCall = Time(operation, calls);
        calls = (int)Math.Clamp(seconds / Batches / Math.Max(perCall, 1e-10), 1_000, 100_000_000);
        return [.. Enumerable.Range(0, Batches).Select(_ => Time(operation, calls) * 1e9)];
    }

    private static double Time(Func<int, int> operation, int calls)
    {
        var watch = Stopwatch.StartNew();
        for (var i = 0; i < calls; i++)
        {
            s_sink += operation(i);
        }

        return watch.Elapsed.TotalSeconds / calls;
    }
}
