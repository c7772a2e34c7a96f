using System.Collections.Frozen;
using Tachyscope;

/// <summary>Looking up the vessels of a day among those that are known, by their call signs.</summary>
internal static class CallSigns
{
    public static Study Study => Tachyscope.Study
        .Of("look up call signs")
        .Inputs("vessels", [256], (count, seed) => new Registry(count, seed))
        .Baseline("dictionary", registry => Known(registry, registry.Berths.ContainsKey))
        .Variant("set", registry => Known(registry, registry.Signs.Contains))
        .Variant("frozen set", registry => Known(registry, registry.Frozen.Contains));

    private static int Known(Registry registry, Func<string, bool> isKnown)
    {
        var known = 0;
        foreach (var sign in registry.Passing)
        {
            known += isKnown(sign) ? 1 : 0;
        }

        return known;
    }

    private sealed class Registry
    {
        public Registry(int count, int seed)
        {
            var random = new Random(seed);
            string[] signs = [.. Enumerable.Range(0, count)
                .Select(vessel => $"S{random.Next(100, 999)}{(char)('A' + (vessel % 26))}{vessel}")];
            Berths = signs.Select((sign, berth) => (sign, berth)).ToDictionary(pair => pair.sign, pair => pair.berth);
            Signs = [.. signs];
            Frozen = signs.ToFrozenSet();
            Passing = [.. Enumerable.Range(0, 64).Select(_ => random.Next(2) == 0 ? signs[random.Next(count)] : $"X{random.Next(1_000)}")];
        }

        public Dictionary<string, int> Berths { get; }

        public HashSet<string> Signs { get; }

        public FrozenSet<string> Frozen { get; }

        public string[] Passing { get; }
    }
}
