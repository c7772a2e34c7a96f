namespace Tachyscope.Bench.Studies;

/// <summary>
/// The same two variants on one input and on a pool of many: where a pool changes who is faster, since branches and tables that one input
/// has taught are not those that the next one needs, and where it does not.
/// </summary>
internal static class Pools
{
    private const string Name = "pool";
    private const int Count = 256;
    private const int Levels = 400;
    private const int TableBits = 20;

    private static readonly int[] BigTable = [.. Enumerable.Range(0, 1 << TableBits).Select(key => key * 7)];
    private static readonly int[] SmallTable = [.. Enumerable.Range(0, 256).Select(key => key * 7)];

    /// <summary>The studies, all named "pool: …".</summary>
    public static IEnumerable<Study> All
    {
        get
        {
            yield return OnLevels("guessed or not").Baseline("by branches", ByBranches).Variant("without branches", WithoutBranches);
            yield return OnLevels("table or steps").Baseline("big table", ByBigTable).Variant("small tables", BySmallTables);
            yield return OnLevels("sum").Baseline("loop", SumOf).Variant("loop again", SumAgain);
            yield return OnLevels("largest").Baseline("loop", Largest).Variant("Math.Max twice", LargestTwice);
            yield return OnLevels("mixed up").Baseline("once", levels => Mixed(levels, 1)).Variant("twice", levels => Mixed(levels, 2))
                .Agree((_, _) => true);
            yield return OnLevels("added").Baseline("by ones", levels => Added(levels, 1)).Variant("by twos", levels => Added(levels, 2))
                .Agree((_, _) => true);
            yield return OnLevels("made up").Baseline("array", levels => levels.ToArray().Length)
                .Variant("list", levels => new List<int>(levels).Count);
        }
    }

    /// <summary>A walk from line to line through 16 KiB, in no order; every other line, since caches fetch them in pairs.</summary>
    public static Study Walk => Study.Of("cold: walk").Input("128 lines", () => new Lines(128, everyBytes: 128))
        .Baseline("in no order", lines => lines.Walk()).Variant("half of it", lines => lines.Walk(64)).Agree((_, _) => true);

    /// <summary>The same with lines so far from each other that none is fetched ahead with another.</summary>
    public static Study WalkOverPages => Study.Of("cold: pages").Input("128 lines", () => new Lines(128, everyBytes: 4_096 + 128))
        .Baseline("in no order", lines => lines.Walk()).Variant("half of it", lines => lines.Walk(64)).Agree((_, _) => true);

    private static StudyDraft<int[]> OnLevels(string name) => Study.Of($"{Name}: {name}").Input("levels", Made).Pool("levels", Count, Made);

    private static int[] Made(int seed)
    {
        var random = new Random(seed);
        return [.. Enumerable.Range(0, Levels).Select(_ => random.Next(1 << TableBits))];
    }

    private static int ByBranches(int[] levels)
    {
        var (high, low) = (0, 0);
        foreach (var level in levels)
        {
            if (level > 1 << (TableBits - 1))
            {
                high += level;
            }
            else
            {
                low ^= level;
            }
        }

        return high ^ low;
    }

    private static int WithoutBranches(int[] levels)
    {
        var (high, low) = (0, 0);
        foreach (var level in levels)
        {
            var mask = ((1 << (TableBits - 1)) - level) >> 31;
            high += level & mask;
            low ^= level & ~mask;
            // As much work again as branches save where they are guessed.
            high = (high ^ level) * 5 / 5 ^ level;
        }

        return high ^ low;
    }

    private static int ByBigTable(int[] levels)
    {
        var sum = 0;
        foreach (var level in levels)
        {
            sum += BigTable[level];
        }

        return sum;
    }

    private static int BySmallTables(int[] levels)
    {
        var sum = 0;
        foreach (var level in levels)
        {
            sum += SmallTable[level & 255] + (SmallTable[(level >> 8) & 255] << 8) + (SmallTable[level >> 16] << 16);
        }

        return sum;
    }

    private static int SumOf(int[] levels)
    {
        var sum = 0;
        foreach (var level in levels)
        {
            sum += level;
        }

        return sum;
    }

    private static int SumAgain(int[] levels)
    {
        var sum = 0;
        for (var index = levels.Length - 1; index >= 0; index--)
        {
            sum += levels[index];
            sum ^= index;
            sum ^= index;
        }

        return sum;
    }

    private static int Largest(int[] levels)
    {
        var largest = 0;
        foreach (var level in levels)
        {
            largest = Math.Max(largest, level);
        }

        return largest;
    }

    private static int LargestTwice(int[] levels)
    {
        var largest = 0;
        foreach (var level in levels)
        {
            largest = Math.Max(Math.Max(largest, level), level - 1);
        }

        return largest;
    }

    private static int Mixed(int[] levels, int times)
    {
        var all = 1;
        for (var time = 0; time < times; time++)
        {
            foreach (var level in levels)
            {
                all = (all * 31) ^ level;
            }
        }

        return all;
    }

    private static int Added(int[] levels, int step)
    {
        var sum = 0;
        for (var index = 0; index < levels.Length; index += step)
        {
            sum += levels[index];
        }

        return sum;
    }

    /// <summary>Indices that lead from one cache line to another, until all were seen.</summary>
    private sealed class Lines
    {
        private readonly int[] _next;
        private readonly int _first;
        private readonly int _count;

        public Lines(int count, int everyBytes)
        {
            var every = everyBytes / sizeof(int);
            (_next, _first) = LargePages.Make(count * every);
            _count = count;
            int[] order = [.. Enumerable.Range(1, count - 1)];
            new Random(1).Shuffle(order);
            var at = _first;
            foreach (var line in order)
            {
                at = _next[at] = _first + (line * every);
            }
        }

        public int Walk() => Walk(_count);

        public int Walk(int lines)
        {
            var at = _first;
            for (var line = 1; line < lines; line++)
            {
                at = _next[at];
            }

            return at;
        }
    }
}
