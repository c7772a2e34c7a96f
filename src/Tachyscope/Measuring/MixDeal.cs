namespace Tachyscope.Measuring;

/// <summary>
/// Deals the kinds of a mix: stretch after stretch, in each of which every kind comes exactly as often as its weight says, shuffled
/// for itself. A reading of whole stretches is then of the whole mix, whatever it costs and wherever it begins.
/// </summary>
internal static class MixDeal
{
    private const int LongestStretch = 1_000;

    // Long enough that the processor cannot learn which kind comes next.
    private const int LongestRow = 4_096;
    private const double MostError = 0.001;
    private const int LongestExactStretch = 200;
    private const double Rounding = 1e-9;

    /// <summary>
    /// How often each kind comes in a stretch: the shortest that has every share exactly, or else within a thousandth, and leaves
    /// out none.
    /// </summary>
    /// <param name="weights">How often each kind comes, in any unit; above 0.</param>
    public static int[] Stretch(double[] weights)
    {
        var sum = weights.Sum();
        double[] shares = [.. weights.Select(weight => weight / sum)];
        return Shortest(shares, LongestExactStretch, Rounding)
            ?? Shortest(shares, LongestStretch, MostError)
            ?? Counts(shares, LongestStretch);
    }

    /// <summary>A stretch in which each of several alike comes once.</summary>
    public static int[] OfAlike(int count) => [.. Enumerable.Repeat(1, count)];

    /// <summary>A row of whole stretches, each of its own shuffle: which kind comes when.</summary>
    public static int[] Row(int[] stretch, int seed)
    {
        int[] one = [.. stretch.SelectMany((count, kind) => Enumerable.Repeat(kind, count))];
        var row = new int[Math.Max(1, LongestRow / one.Length) * one.Length];
        var random = new Random(seed);
        for (var start = 0; start < row.Length; start += one.Length)
        {
            random.Shuffle(one);
            one.CopyTo(row, start);
        }

        return row;
    }

    private static int[]? Shortest(double[] shares, int longest, double mostError)
        => Enumerable.Range(shares.Length, Math.Max(0, longest + 1 - shares.Length)).Select(length => Counts(shares, length))
            .FirstOrDefault(counts => counts.Min() > 0 && ErrorOf(counts, shares) <= mostError);

    private static double ErrorOf(int[] counts, double[] shares)
    {
        var length = (double)counts.Sum();
        return counts.Select((count, kind) => Math.Abs((count / length) - shares[kind])).Max();
    }

    // The largest remainders get what rounding down left over.
    private static int[] Counts(double[] shares, int length)
    {
        int[] counts = [.. shares.Select(share => (int)(share * length))];
        var left = length - counts.Sum();
        var byRemainder = Enumerable.Range(0, shares.Length).OrderByDescending(kind => (shares[kind] * length) - counts[kind]);
        foreach (var kind in byRemainder.Take(left))
        {
            counts[kind]++;
        }

        return counts;
    }
}
