namespace Tachyscope.Bench.Studies;

/// <summary>Everyday code that a gate is to watch: compiled with SLOWED it does a twentieth more and answers the same.</summary>
internal static class Gated
{
    private const int Words = 200;
#if SLOWED
    private const int Again = Words / 20;
#else
    private const int Again = 0;
#endif

    public static Study Study => Tachyscope.Study
        .Of("gated")
        .Input("a day of signals", _ => new Signals())
        .Baseline("dictionary", signals => signals.ByDictionary())
        .Variant("binary search", signals => signals.BySearch())
        .Variant("hash of the text", signals => signals.ByHash());

    private sealed class Signals
    {
        private readonly string[] _words = [.. Enumerable.Range(0, Words).Select(number => $"signal {number * 37 % 97}")];
        private readonly Dictionary<string, int> _lengths = [];
        private readonly string[] _sorted;
        private int _sink;

        public Signals()
        {
            foreach (var word in _words.Distinct())
            {
                _lengths[word] = word.Length;
            }

            _sorted = [.. _lengths.Keys.Order(StringComparer.Ordinal)];
        }

        public int ByDictionary() => Total(static (signals, word) => signals._lengths.TryGetValue(word, out var length) ? length : 0);

        public int BySearch() => Total(static (signals, word) => Array.BinarySearch(signals._sorted, word, StringComparer.Ordinal) >= 0 ? word.Length : 0);

        public int ByHash() => Total(static (_, word) =>
        {
            var hash = 17;
            foreach (var letter in word)
            {
                hash = (hash * 31) + letter;
            }

            return hash == 0 ? 0 : word.Length;
        });

        private int Total(Func<Signals, string, int> of)
        {
            var sum = 0;
            foreach (var word in _words)
            {
                sum += of(this, word);
            }

            for (var index = 0; index < Again; index++)
            {
                _sink += of(this, _words[index]);
            }

            return sum;
        }
    }
}
