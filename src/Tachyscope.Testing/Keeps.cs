using System.Globalization;

namespace Tachyscope.Testing;

/// <summary>
/// Limits that a unit test may hold an operation to on any machine, whatever else runs there: each is kept as soon as it was kept once,
/// and broken only when it never was in all the time allowed.
/// </summary>
/// <remarks>
/// Load, collections and unfinished compiling only ever add time and bytes, so that the least of many calls is what an operation needs;
/// what needs too much never gets there. That a difference of a few percent is real no unit test can tell: that takes a study.
/// </remarks>
public static class Keeps
{
    private const int BytesBatch = 64;
    private const int Rounds = 5;
    private const int ElementsTold = 8;
    private const double LeastSampleMilliseconds = 0.2;
    private static readonly TimeSpan Usual = TimeSpan.FromSeconds(5);

    /// <summary>An operation allocates no more than so many bytes a call, once it is compiled for good.</summary>
    /// <typeparam name="TResult">What it answers.</typeparam>
    /// <param name="atMost">Bytes per call; 0 for none at all.</param>
    /// <param name="operation">The operation; it is called at least 64 times, on this thread.</param>
    /// <param name="within">How long to wait for that; 5 s by default.</param>
    /// <exception cref="ArgumentNullException"><paramref name="operation"/> is null.</exception>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="atMost"/> is negative.</exception>
    /// <exception cref="LimitBrokenException">It allocates more.</exception>
    public static void Bytes<TResult>(long atMost, Func<TResult> operation, TimeSpan? within = null)
    {
        ArgumentNullException.ThrowIfNull(operation);
        ArgumentOutOfRangeException.ThrowIfNegative(atMost);
        var least = long.MaxValue;
        var kept = Until(within, () =>
        {
            var before = GC.GetAllocatedBytesForCurrentThread();
            for (var call = 0; call < BytesBatch; call++)
            {
                Witness<TResult>.Last = operation();
            }

            // Rounded up: what allocates in one call of many does allocate.
            least = Math.Min(least, (GC.GetAllocatedBytesForCurrentThread() - before + BytesBatch - 1) / BytesBatch);
            return least <= atMost;
        });
        if (!kept)
        {
            throw new LimitBrokenException(Invariant($"{least} bytes a call are allocated, and {atMost} were allowed."));
        }
    }

    /// <summary>Two operations give the same answers, sequences element by element.</summary>
    /// <typeparam name="TInput">What they work on.</typeparam>
    /// <typeparam name="TResult">What they answer.</typeparam>
    /// <param name="inputs">What to ask them; neither may change it, since both are given the same.</param>
    /// <param name="expected">The operation that is right.</param>
    /// <param name="operation">The other.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    /// <exception cref="LimitBrokenException">On an input they differ.</exception>
    public static void Answers<TInput, TResult>(IEnumerable<TInput> inputs, Func<TInput, TResult> expected, Func<TInput, TResult> operation)
    {
        ArgumentNullException.ThrowIfNull(inputs);
        ArgumentNullException.ThrowIfNull(expected);
        ArgumentNullException.ThrowIfNull(operation);
        foreach (var (input, number) in inputs.Select((input, index) => (input, index + 1)))
        {
            // A sequence is gone through once: it may be evaluated as it is, and only then.
            var (right, given) = (Seen(expected(input)), Seen(operation(input)));
            if (!AreSame(right, given))
            {
                throw new LimitBrokenException(Invariant(
                    $"on input {number}, {Text(input)}, the answer is {Text(given)} and should be {Text(right)}{Where(right, given)}."));
            }
        }
    }

    /// <summary>An operation's time grows with its input no faster than a power of it.</summary>
    /// <typeparam name="TInput">What it works on.</typeparam>
    /// <param name="exponent">The power: 1 for a time in proportion, 2 for a square; half a power more is let pass, for what caches
    /// do.</param>
    /// <param name="sizes">At least two sizes, the largest at least eight times the smallest.</param>
    /// <param name="make">Makes the input of a size.</param>
    /// <param name="operation">The operation; what it is given must be as before after each call.</param>
    /// <param name="within">How long to wait for that; 5 s by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    /// <exception cref="ArgumentException">The sizes are too few, too near each other or not above 0.</exception>
    /// <exception cref="LimitBrokenException">It grows faster.</exception>
    public static void Growth<TInput>(
        double exponent, IReadOnlyList<int> sizes, Func<int, TInput> make, Action<TInput> operation, TimeSpan? within = null)
    {
        ArgumentNullException.ThrowIfNull(sizes);
        ArgumentNullException.ThrowIfNull(make);
        ArgumentNullException.ThrowIfNull(operation);
        const double Spared = 0.5;
        const int LeastSpan = 8;
        if (sizes.Count < 2 || sizes.Min() < 1 || sizes.Max() < LeastSpan * sizes.Min())
        {
            throw new ArgumentException("Give at least two sizes above 0, the largest at least eight times the smallest.", nameof(sizes));
        }

        var (small, large) = (sizes.Min(), sizes.Max());
        var (few, many) = (make(small), make(large));
        var found = double.NaN;
        var pair = new Pair(() => operation(few), () => operation(many));
        var kept = Until(within, () =>
        {
            pair.Round();
            found = Math.Log(pair.Ratio) / Math.Log((double)large / small);
            return pair.IsSettled && found <= exponent + Spared;
        });
        if (!kept)
        {
            throw new LimitBrokenException(Invariant(
                $"from {small} to {large} the time grows {pair.Ratio:0.#} times, as the power {found:0.00}; {exponent:0.##} was allowed."));
        }
    }

    /// <summary>An operation takes no longer than another, with a wide margin.</summary>
    /// <param name="other">The operation it is compared with.</param>
    /// <param name="operation">The operation.</param>
    /// <param name="margin">By how much longer it may take, as a share: 0.5, half as long again, by default; not less than 0.1.</param>
    /// <param name="within">How long to wait for that; 5 s by default.</param>
    /// <exception cref="ArgumentNullException">An argument is null.</exception>
    /// <exception cref="ArgumentOutOfRangeException">The margin is less than a test can tell on any machine.</exception>
    /// <exception cref="LimitBrokenException">It takes longer.</exception>
    public static void Pace(Action other, Action operation, double margin = 0.5, TimeSpan? within = null)
    {
        ArgumentNullException.ThrowIfNull(other);
        ArgumentNullException.ThrowIfNull(operation);
        ArgumentOutOfRangeException.ThrowIfLessThan(margin, 0.1);
        var pair = new Pair(other, operation);
        var kept = Until(within, () =>
        {
            pair.Round();
            return pair.IsSettled && pair.Ratio <= 1 + margin;
        });
        if (!kept)
        {
            throw new LimitBrokenException(Invariant(
                $"it takes {pair.Ratio:0.##} times as long as the other, and {1 + margin:0.##} times were allowed."));
        }
    }

    // A look at the clock between rounds, none inside them.
    private static bool Until(TimeSpan? within, Func<bool> isKept)
    {
        var patience = within ?? Usual;
        var begun = System.Diagnostics.Stopwatch.GetTimestamp();
        do
        {
            if (isKept())
            {
                return true;
            }
        }
        while (System.Diagnostics.Stopwatch.GetElapsedTime(begun) < patience);
        return false;
    }

    private static bool AreSame(object? one, object? other)
        => one is System.Collections.IEnumerable first and not string && other is System.Collections.IEnumerable second and not string
            ? first.Cast<object?>().SequenceEqual(second.Cast<object?>(), SameElements.Instance)
            : Equals(one, other);

    private static object? Seen(object? answer) => answer is System.Collections.IEnumerable sequence and not string
        ? sequence.Cast<object?>().ToList() : answer;

    // A sequence by its first elements: its type's name would say nothing.
    private static string Text(object? value) => value switch
    {
        null => "null",
        string text => $"\"{text}\"",
        System.Collections.IEnumerable sequence => sequence.Cast<object?>().Take(ElementsTold + 1).Select(Text).ToList() is var first
            && first.Count > ElementsTold ? $"[{string.Join(", ", first.Take(ElementsTold))}, …]" : $"[{string.Join(", ", first)}]",
        IFormattable number => number.ToString(format: null, CultureInfo.InvariantCulture),
        _ => value.ToString() ?? "null",
    };

    // The first of two sequences' elements that differ; nothing where neither is a sequence.
    private static string Where(object? right, object? given)
    {
        if (right is not List<object?> one || given is not List<object?> other)
        {
            return "";
        }

        var (least, place) = (Math.Min(one.Count, other.Count), 0);
        while (place < least && AreSame(one[place], other[place]))
        {
            place++;
        }

        return place < least ? Invariant($": at index {place} it is {Text(other[place])}, not {Text(one[place])}")
            : Invariant($": it has {other.Count} element{(other.Count == 1 ? "" : "s")}, not {one.Count}");
    }

    private static string Invariant(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);

    // Where an answer is put so that making it is not left out.
    private static class Witness<TResult>
    {
        public static TResult? Last { get; set; }
    }

    private sealed class SameElements : IEqualityComparer<object?>
    {
        public static SameElements Instance { get; } = new();

        bool IEqualityComparer<object?>.Equals(object? x, object? y) => AreSame(x, y);

        int IEqualityComparer<object?>.GetHashCode(object obj) => 0;
    }

    // Two operations in turn, each in batches long enough for the clock; the shortest of each counts. Nothing is told before the first has
    // come to rest: a ratio to what is not optimised yet would let everything pass.
    private sealed class Pair(Action one, Action other)
    {
        private const int RoundsAtRest = 6;
        private const double AtRest = 0.95;
        private static readonly TimeSpan UntilOptimised = TimeSpan.FromMilliseconds(400);

        private readonly long _begun = System.Diagnostics.Stopwatch.GetTimestamp();
        private double _restedAt = double.PositiveInfinity;
        private int _rested;
        private double _one = double.PositiveInfinity;
        private double _other = double.PositiveInfinity;
        private int _calls = 1;
        private int _otherCalls = 1;

        public double Ratio => _other / _one;

        public bool IsSettled => _rested >= RoundsAtRest && System.Diagnostics.Stopwatch.GetElapsedTime(_begun) >= UntilOptimised;

        public void Round()
        {
            for (var round = 0; round < Rounds; round++)
            {
                Take(one, ref _calls, ref _one);
                Take(other, ref _otherCalls, ref _other);
            }

            var hasMoved = _one < AtRest * _restedAt;
            (_restedAt, _rested) = hasMoved || double.IsInfinity(_one) ? (_one, 0) : (_restedAt, _rested + 1);
        }

        private static void Take(Action operation, ref int calls, ref double least)
        {
            var begun = System.Diagnostics.Stopwatch.GetTimestamp();
            for (var call = 0; call < calls; call++)
            {
                operation();
            }

            var milliseconds = System.Diagnostics.Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
            if (milliseconds < LeastSampleMilliseconds)
            {
                calls *= 2;
            }
            else
            {
                least = Math.Min(least, milliseconds / calls);
            }
        }
    }
}
