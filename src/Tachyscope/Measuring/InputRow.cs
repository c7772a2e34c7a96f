using System.Numerics;
using System.Runtime.CompilerServices;

namespace Tachyscope.Measuring;

/// <summary>The inputs of one cell: the same one for every call, or a row of them that calls take in turn.</summary>
internal sealed class InputRow<TInput>
{
    // Inputs made for calls to come have to fit the second-level cache, or every call would begin by fetching its own.
    private const long MostBytesAhead = 256 * 1024;
    private const int MostAhead = 1_024;
    private const int PageBytes = 4_096;

    private InputRow(TInput input, TInput[] items, int stretch, Action? refill, TInput[]? kinds = null, int[]? kindOf = null)
    {
        Input = input;
        Items = items;
        Kinds = kinds ?? [input];
        KindOf = kindOf ?? [];
        Stretch = stretch;
        Refill = refill;
    }

    public TInput Input { get; }

    public TInput[] Items { get; }

    /// <summary>The different inputs among these, where they stay what they are.</summary>
    public TInput[] Kinds { get; }

    /// <summary>Which of them each item is.</summary>
    public int[] KindOf { get; }

    /// <summary>Calls after which everything has come as often as it is to come; 1 where every call is like the others.</summary>
    public int Stretch { get; }

    /// <summary>Makes the row fresh again, outside the timing; null when calls leave it as it is.</summary>
    public Action? Refill { get; }

    /// <summary>Calls that may follow each other without a refill.</summary>
    public long MostCalls => Refill is null ? long.MaxValue : Items.Length;

    /// <summary>Where the one input begins within its page now; null where it is no object, or there are several.</summary>
    public int? Offset()
    {
        if (typeof(TInput).IsValueType || Items.Length > 0 || Input is null)
        {
            return null;
        }

        var input = Input;
        return (int)(Unsafe.As<TInput, nint>(ref input) & (PageBytes - 1));
    }

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
        return Of(kinds, MixDeal.Row(stretch, seed), stretch.Sum());
    }

    /// <summary>Many inputs alike, each as often as the others.</summary>
    /// <param name="kinds">The inputs.</param>
    /// <param name="isInTurn">Whether they come in their order, and not shuffled.</param>
    /// <param name="seed">Seed of the shuffling.</param>
    public static InputRow<TInput> Pool(TInput[] kinds, bool isInTurn, int seed)
        => Of(kinds, isInTurn ? [.. Enumerable.Range(0, kinds.Length)] : MixDeal.Row(MixDeal.OfAlike(kinds.Length), seed), kinds.Length);

    private static InputRow<TInput> Of(TInput[] kinds, int[] kindOf, int stretch)
    {
        TInput[] items = [.. kindOf.Select(kind => kinds[kind])];
        return new(items[0], items, stretch, null, kinds, kindOf);
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
