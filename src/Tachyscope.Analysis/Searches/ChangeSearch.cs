namespace Tachyscope.Analysis.Searches;

/// <summary>
/// Looks for the step with which something changed, in a row whose two ends differ: keeps how probable each step is, looks where as much
/// probability lies before as behind, and ends when a step, or steps that cannot be told from each other, have nearly all of it.
/// </summary>
/// <remarks>
/// Probabilistic bisection: M. Horstein, "Sequential transmission using noiseless feedback", IEEE Trans. Inf. Theory 9 (1963); R. Waeber,
/// P. Frazier and S. Henderson, "Bisection search with noisy responses", SIAM J. Control Optim. 51 (2013). No look is lost: one that tells
/// little counts for little, and one that misled is outvoted. Where the middle cannot be looked at, the next is far from it, since what
/// cannot often lies together: quarters, then eighths of the probability, in the order of van der Corput (1935).
/// </remarks>
public sealed class ChangeSearch
{
    /// <summary>Share of the probability at which the search ends.</summary>
    public const double Enough = 0.98;

    private const int MostFractions = 64;

    private readonly double[] _weights;

    // Of all steps up to each.
    private readonly double[] _sums;
    private readonly HashSet<int> _untold = [];

    /// <summary>A search in a row.</summary>
    /// <param name="last">Index of its last, at least 1; the first is 0.</param>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="last"/> is less than 1.</exception>
    public ChangeSearch(int last)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(last, 1);
        _weights = [0, .. Enumerable.Repeat(1.0 / last, last)];
        _sums = [.. Enumerable.Range(0, last + 1).Select(step => (double)step / last)];
        // Nothing is told yet, so that nothing is left out.
        High = last;
    }

    /// <summary>The last that probably lies before the change.</summary>
    public int Low { get; private set; }

    /// <summary>The first that probably lies after it.</summary>
    public int High { get; private set; }

    /// <summary>Those between the two.</summary>
    public IReadOnlyList<int> Between => [.. Enumerable.Range(Low + 1, High - Low - 1)];

    /// <summary>Which to look at next; null when it is found, or nothing between the two can be looked at.</summary>
    public int? Next
    {
        get
        {
            var open = Between.Where(index => !_untold.Contains(index)).ToHashSet();
            if (open.Count == 0)
            {
                return null;
            }

            for (var number = 1; number <= MostFractions; number++)
            {
                var fraction = Fraction(number);
                var place = Between.MinBy(index => Math.Abs(_sums[index] - fraction));
                if (open.Contains(place))
                {
                    return place;
                }
            }

            return open.MinBy(index => Math.Abs(_sums[index] - 0.5));
        }
    }

    /// <summary>Looks that are still needed when each tells clearly.</summary>
    public int LooksLeft => (int)Math.Ceiling(Math.Log2(High - Low));

    /// <summary>Takes note of one that cannot be looked at.</summary>
    /// <param name="index">Which.</param>
    /// <exception cref="ArgumentOutOfRangeException">It is none between the ends.</exception>
    public void Skip(int index)
    {
        Check(index);
        _untold.Add(index);
    }

    /// <summary>Takes note of what a look at one told.</summary>
    /// <param name="index">Which.</param>
    /// <param name="logOdds">
    /// Logarithm of how many times as probable what was seen is if it lies after the change than if it lies before.
    /// </param>
    /// <exception cref="ArgumentOutOfRangeException">It is none between the ends.</exception>
    public void Tell(int index, double logOdds)
    {
        Check(index);
        Weigh((1, index), logOdds);
    }

    /// <summary>Takes note that two are the same, so that what changed did not change between them.</summary>
    /// <param name="earlier">The earlier.</param>
    /// <param name="later">The later.</param>
    public void Same(int earlier, int later) => Weigh((earlier + 1, later), -ChangeEvidence.Certain);

    private void Weigh((int First, int Last) steps, double logOdds)
    {
        for (var step = steps.First; step <= steps.Last; step++)
        {
            _weights[step] *= Math.Exp(logOdds);
        }

        var sum = _weights.Sum();
        for (var step = 0; step < _weights.Length; step++)
        {
            _weights[step] /= sum;
        }

        Narrow();
    }

    // The shortest row of steps that has enough; of several the most probable.
    private void Narrow()
    {
        var last = _weights.Length - 1;
        for (var step = 1; step <= last; step++)
        {
            _sums[step] = _sums[step - 1] + _weights[step];
        }

        for (var length = 1; length <= last; length++)
        {
            var low = Enumerable.Range(0, last - length + 1).MaxBy(first => _sums[first + length] - _sums[first]);
            if (_sums[low + length] - _sums[low] >= Enough * _sums[last])
            {
                (Low, High) = (low, low + length);
                return;
            }
        }
    }

    private void Check(int index)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(index, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThanOrEqual(index, _weights.Length - 1);
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
