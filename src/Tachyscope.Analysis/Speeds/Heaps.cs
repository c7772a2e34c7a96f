namespace Tachyscope.Analysis.Speeds;

/// <summary>Whether a sample falls into several heaps with gaps between them, and which values lie in which.</summary>
/// <remarks>
/// Values on one line are split into two to four runs so that the least is left of their squares about the runs' means, which is found
/// exactly (W. D. Fisher, "On grouping for maximum homogeneity", 1958). Heaps are claimed where the least gap between neighbours is many
/// times the deviation within heaps, pooled. How many was found by simulation, so that at most 2 % of samples of one heap are split, be
/// they normal, uniform, of Student's t with three degrees of freedom, lognormal, drifting, or with a tenth of outliers: the outliers
/// decide, two of which may lie close together by chance. So a heap has to hold a sixth of the values, and of thirteen or more one in nine
/// may lie astray, outside of all heaps.
/// </remarks>
internal static class Heaps
{
    /// <summary>Fewer values tell nothing.</summary>
    public const int FewestValues = 6;

    /// <summary>Stands for the heap of a value that lies in none.</summary>
    public const int Astray = -1;

    private const int MostHeaps = 4;
    private const int LeastInHeap = 2;
    private const int OneHeapOf = 6;
    private const int OneAstrayOf = 9;
    private const double WorthOfAstray = 1.4;

    // From so many values on, three of which have to lie in a heap, a smaller gap will do.
    private const int ManyValues = 13;
    private const double GapOfFew = 10;
    private const double GapOfMany = 7;

    /// <summary>The heap of each value, from 0 for the lowest, or <see cref="Astray"/>; all 0 where there is one heap.</summary>
    /// <param name="values">The values, finite.</param>
    /// <param name="leastGap">Gaps that are no larger are none.</param>
    /// <param name="error">Standard error of a value: no heap is taken to be narrower.</param>
    public static int[] Of(ReadOnlySpan<double> values, double leastGap, double error)
    {
        var heaps = new int[values.Length];
        int[] order = [.. Enumerable.Range(0, values.Length)];
        double[] sorted = values.ToArray();
        Array.Sort(sorted, order);
        if (Best(sorted, leastGap, error) is not { } best)
        {
            return heaps;
        }

        Array.Fill(heaps, Astray);
        var kept = Enumerable.Range(0, sorted.Length).Except(best.Astray).ToList();
        for (var index = 0; index < kept.Count; index++)
        {
            heaps[order[kept[index]]] = best.Split.HeapOf(index);
        }

        return heaps;
    }

    // The split whose least gap is widest by what lies within its runs; null where none is wide enough.
    private static (Split Split, List<int> Astray)? Best(double[] sorted, double leastGap, double error)
    {
        (Split, List<int>)? best = null;
        var isMany = sorted.Length >= ManyValues;
        var widest = isMany ? GapOfMany : GapOfFew;
        var least = Math.Max(LeastInHeap, (sorted.Length + OneHeapOf - 1) / OneHeapOf);
        for (var count = 2; sorted.Length >= FewestValues && count <= MostHeaps && count * least <= sorted.Length; count++)
        {
            foreach (var (split, kept) in Splits(sorted, count, least, isMany ? sorted.Length / OneAstrayOf : 0, error))
            {
                // Leaving out the outermost always makes the rest a little clearer; it has to make it much so.
                var width = split.Width(error) / Math.Pow(WorthOfAstray, sorted.Length - kept.Count);
                if (split.Gap > leastGap && width > widest)
                {
                    (widest, best) = (width, (split, [.. Enumerable.Range(0, sorted.Length).Except(kept)]));
                }
            }
        }

        return best;
    }

    // The best split of all values, and of those left when one after the other is taken for astray.
    private static IEnumerable<(Split Split, List<int> Kept)> Splits(double[] sorted, int count, int least, int mostAstray, double error)
    {
        var kept = Enumerable.Range(0, sorted.Length).ToList();
        Split Of(Func<int, bool> isKept) => Split.Of([.. kept.Where((_, index) => isKept(index)).Select(index => sorted[index])], count,
            least);
        for (var astray = 0; astray <= mostAstray && kept.Count >= count * least; astray++)
        {
            var split = Of(_ => true);
            yield return (split, [.. kept]);
            if (kept.Count > count * least)
            {
                // What lies astray lies at an end of a run; the one goes whose loss makes the rest clearest.
                kept.RemoveAt(split.Ends.MaxBy(end => Of(index => index != end).Width(error)));
            }
        }
    }

    // Where every run but the lowest begins, the least gap before one, and the deviation within runs.
    private sealed record Split(int[] Starts, int[] Ends, double Gap, double Deviation)
    {
        public double Width(double error) => Gap / Math.Max(error, Deviation);

        public int HeapOf(int index) => Array.FindAll(Starts, start => start <= index).Length;

        public static Split Of(double[] sorted, int count, int least)
        {
            var (starts, squares) = Heaps.Runs(sorted, count, least);
            return new Split(
                starts, [0, sorted.Length - 1, .. starts, .. starts.Select(start => start - 1)],
                starts.Min(start => sorted[start] - sorted[start - 1]), Math.Sqrt(squares / Math.Max(1, sorted.Length - count)));
        }
    }

    // The first index of every run but the lowest, and the sum of squares that is left.
    private static (int[] Starts, double Squares) Runs(double[] sorted, int count, int least)
    {
        var length = sorted.Length;
        var middle = sorted[length / 2];
        var (sums, squares) = (new double[length + 1], new double[length + 1]);
        for (var index = 0; index < length; index++)
        {
            var value = sorted[index] - middle;
            (sums[index + 1], squares[index + 1]) = (sums[index] + value, squares[index] + (value * value));
        }

        double Left(int from, int to)
        {
            var sum = sums[to] - sums[from];
            return Math.Max(0, squares[to] - squares[from] - (sum * sum / (to - from)));
        }

        var left = new double[count + 1, length + 1];
        var begins = new int[count + 1, length + 1];
        for (var runs = 1; runs <= count; runs++)
        {
            for (var end = runs * least; end <= length; end++)
            {
                left[runs, end] = double.PositiveInfinity;
                for (var begin = (runs - 1) * least; begin <= (runs == 1 ? 0 : end - least); begin++)
                {
                    var all = (runs == 1 ? 0 : left[runs - 1, begin]) + Left(begin, end);
                    if (all < left[runs, end])
                    {
                        (left[runs, end], begins[runs, end]) = (all, begin);
                    }
                }
            }
        }

        var starts = new int[count - 1];
        for (var (runs, end) = (count, length); runs > 1; runs--)
        {
            end = starts[runs - 2] = begins[runs, end];
        }

        return (starts, left[count, length]);
    }
}
