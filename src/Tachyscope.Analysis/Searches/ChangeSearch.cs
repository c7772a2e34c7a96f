namespace Tachyscope.Analysis.Searches;

/// <summary>
/// Looks for the step at which something changed, in a row whose two ends differ: halves what is open, and goes round what cannot be told.
/// </summary>
/// <remarks>
/// Where the middle cannot be told, the next looked at is far from it, since what cannot be told often lies together: the quarters,
/// then the eighths, in the order of van der Corput, "Verteilungsfunktionen", Proc. Akad. Wet. Amsterdam 38 (1935).
/// </remarks>
public sealed class ChangeSearch
{
    private readonly HashSet<int> _untold = [];

    /// <summary>A search in a row.</summary>
    /// <param name="last">Index of its last, at least 1; the first is 0.</param>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="last"/> is less than 1.</exception>
    public ChangeSearch(int last)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(last, 1);
        High = last;
    }

    /// <summary>The last that is known to lie before the change.</summary>
    public int Low { get; private set; }

    /// <summary>The first that is known to lie after it.</summary>
    public int High { get; private set; }

    /// <summary>Those between the two, all of which could not be told once <see cref="Next"/> is null.</summary>
    public IReadOnlyList<int> Between => [.. Enumerable.Range(Low + 1, High - Low - 1)];

    /// <summary>Which to look at next; null when none is left.</summary>
    public int? Next
    {
        get
        {
            var open = Between.Where(index => !_untold.Contains(index)).ToHashSet();
            if (open.Count == 0)
            {
                return null;
            }

            // Every place is met before denominators reach twice the row's length.
            for (var number = 1; ; number++)
            {
                var place = Low + (int)((High - Low) * Fraction(number));
                if (open.Contains(place))
                {
                    return place;
                }
            }
        }
    }

    /// <summary>Looks that may still be needed when each is told, the worst case.</summary>
    public int LooksLeft => Low + 1 == High ? 0 : (int)Math.Ceiling(Math.Log2(High - Low));

    /// <summary>Takes note of one that cannot be told.</summary>
    /// <param name="index">Which.</param>
    /// <exception cref="ArgumentOutOfRangeException">It is not between the two.</exception>
    public void Skip(int index)
    {
        Check(index);
        _untold.Add(index);
    }

    /// <summary>Takes note of one.</summary>
    /// <param name="index">Which.</param>
    /// <param name="isChanged">Whether it lies after the change.</param>
    /// <exception cref="ArgumentOutOfRangeException">It is not between the two.</exception>
    public void Tell(int index, bool isChanged)
    {
        Check(index);
        (Low, High) = isChanged ? (Low, index) : (index, High);
    }

    private void Check(int index)
    {
        ArgumentOutOfRangeException.ThrowIfLessThanOrEqual(index, Low);
        ArgumentOutOfRangeException.ThrowIfGreaterThanOrEqual(index, High);
    }

    // 1/2, 1/4, 3/4, 1/8, 5/8, 3/8, 7/8, …
    private static double Fraction(int number)
    {
        var (fraction, part) = (0.0, 0.5);
        for (var rest = number; rest > 0; rest /= 2, part /= 2)
        {
            fraction += rest % 2 * part;
        }

        return fraction;
    }
}
