using System.Numerics;

namespace Tachyscope.Measuring;

/// <summary>The inputs of one cell: the same one for every call, or a row of them that calls take in turn.</summary>
internal sealed class InputRow<TInput>
{
    // Inputs made for calls to come have to fit the second-level cache, or every call would begin by fetching its own.
    private const long MostBytesAhead = 256 * 1024;
    private const int MostAhead = 1_024;
    private const int MixLength = 4_096;

    private InputRow(TInput input, TInput[] items, Action? refill)
    {
        Input = input;
        Items = items;
        Refill = refill;
    }

    public TInput Input { get; }

    public TInput[] Items { get; }

    /// <summary>Makes the row fresh again, outside the timing; null when calls leave it as it is.</summary>
    public Action? Refill { get; }

    /// <summary>Calls that may follow each other without a refill.</summary>
    public long MostCalls => Refill is null ? long.MaxValue : Items.Length;

    /// <summary>One input for all calls.</summary>
    public static InputRow<TInput> Same(TInput input) => new(input, [], null);

    /// <summary>A fresh input for every call, made or reset before each batch.</summary>
    public static InputRow<TInput> Fresh(Func<TInput> make, Action<TInput>? reset)
    {
        make();
        var before = GC.GetAllocatedBytesForCurrentThread();
        var first = make();
        var bytes = Math.Max(1, GC.GetAllocatedBytesForCurrentThread() - before);
        var count = 1 << BitOperations.Log2((uint)Math.Clamp(MostBytesAhead / bytes, 1, MostAhead));
        var items = new TInput[count];
        for (var i = 0; i < count; i++)
        {
            items[i] = make();
        }

        return new(first, items, () => Renew(items, make, reset));
    }

    /// <summary>Inputs of several kinds in shuffled order, each as often as its weight says.</summary>
    public static InputRow<TInput> Mix(TInput[] kinds, double[] weights, int seed)
    {
        var items = new TInput[MixLength];
        var sum = weights.Sum();
        var (next, reached) = (0, 0.0);
        for (var kind = 0; kind < kinds.Length; kind++)
        {
            reached += weights[kind];
            var end = kind == kinds.Length - 1 ? MixLength : (int)Math.Round(MixLength * reached / sum);
            Array.Fill(items, kinds[kind], next, end - next);
            next = end;
        }

        new Random(seed).Shuffle(items);
        return new(items[0], items, null);
    }

    private static void Renew(TInput[] items, Func<TInput> make, Action<TInput>? reset)
    {
        for (var i = 0; i < items.Length; i++)
        {
            if (reset is null)
            {
                items[i] = make();
            }
            else
            {
                reset(items[i]);
            }
        }
    }
}
