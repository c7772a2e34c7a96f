using System.Numerics;
using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>The inputs of one cell: the same one for every call, or a row of them that calls take in turn.</summary>
internal sealed class InputRow<TInput>
{
    // Inputs made for calls to come have to fit the second-level cache, or every call would begin by fetching its own.
    private const long MostBytesAhead = 256 * 1024;
    private const int MostAhead = 1_024;

    private InputRow(TInput input, TInput[] items, int stretch, Action? refill)
    {
        Input = input;
        Items = items;
        Stretch = stretch;
        Refill = refill;
    }

    public TInput Input { get; }

    public TInput[] Items { get; }

    /// <summary>Calls after which everything has come as often as it is to come; 1 where every call is like the others.</summary>
    public int Stretch { get; }

    /// <summary>Makes the row fresh again, outside the timing; null when calls leave it as it is.</summary>
    public Action? Refill { get; }

    /// <summary>Calls that may follow each other without a refill.</summary>
    public long MostCalls => Refill is null ? long.MaxValue : Items.Length;

    /// <summary>Where a batch begins after one that ended: at the next stretch, so that not all are of the same few items.</summary>
    /// <param name="index">Index of the item after the last.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public int NextStart(int index)
    {
        var into = index % Stretch;
        var next = into == 0 ? index : index + Stretch - into;
        return next >= Items.Length ? 0 : next;
    }

    /// <summary>One input for all calls.</summary>
    public static InputRow<TInput> Same(TInput input) => new(input, [], 1, null);

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

        return new(first, items, 1, () => Renew(items, make, reset));
    }

    /// <summary>Inputs of several kinds in shuffled order, each as often as its weight says.</summary>
    public static InputRow<TInput> Mix(TInput[] kinds, double[] weights, int seed)
    {
        var stretch = MixDeal.Stretch(weights);
        var items = MixDeal.Row(kinds, stretch, seed);
        return new(items[0], items, stretch.Sum(), null);
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
