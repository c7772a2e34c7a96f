using System.Diagnostics;
using System.Globalization;

namespace Tachyscope.Bench.Studies;

/// <summary>What many write when they have no instrument: a loop around a stopwatch, one variant after the other or in turn.</summary>
internal static class ByHand
{
    private const int Batches = 20;
    private const double SecondsOfTurn = 1e-3;
    private static int s_sink;

    /// <summary>Prints one line per variant: its name, then the nanoseconds per call of each batch.</summary>
    public static void Run(string study, double seconds, bool inTurn)
    {
        (string Name, Func<int, int> Operation)[] variants = study == "twins"
            ? Twins.Variants
            : [.. KnownCost.Chains.Select(chain => (chain.Links.ToString(CultureInfo.InvariantCulture), chain.Chain))];
        IEnumerable<double>[] batches = inTurn
            ? MeasureInTurn(variants, seconds)
            : [.. variants.Select(variant => Measure(variant.Operation, seconds / variants.Length))];
        foreach (var ((name, _), own) in variants.Zip(batches))
        {
            Console.WriteLine($"{name}\t{string.Join('\t', own.Select(batch => batch.ToString("R", CultureInfo.InvariantCulture)))}");
        }
    }

    private static double[] Measure(Func<int, int> operation, double seconds)
    {
        var calls = 1_000;
        var perCall = Time(operation, calls);
        calls = (int)Math.Clamp(seconds / Batches / Math.Max(perCall, 1e-10), 1_000, 100_000_000);
        return [.. Enumerable.Range(0, Batches).Select(_ => Time(operation, calls) * 1e9)];
    }

    // Rounds in which every variant takes a batch, in shuffled order: one process, no sittings.
    private static List<double>[] MeasureInTurn((string Name, Func<int, int> Operation)[] variants, double seconds)
    {
        foreach (var (_, operation) in variants)
        {
            Time(operation, 100_000);
        }

        int[] calls = [.. variants.Select(variant => (int)Math.Clamp(SecondsOfTurn / Time(variant.Operation, 10_000), 100, 100_000_000))];
        List<double>[] batches = [.. variants.Select(_ => new List<double>())];
        int[] order = [.. Enumerable.Range(0, variants.Length)];
        var random = new Random(1);
        var rounds = Math.Max(10, (int)(seconds / variants.Length / SecondsOfTurn));
        for (var round = 0; round < rounds; round++)
        {
            random.Shuffle(order);
            foreach (var index in order)
            {
                batches[index].Add(Time(variants[index].Operation, calls[index]) * 1e9);
            }
        }

        return batches;
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
