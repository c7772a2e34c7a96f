namespace Tachyscope.Bench.Studies;

/// <summary>
/// Everyday code that a gate is to watch: compiled with SLOWED it does so much more that it takes a twentieth longer, and answers the same.
/// </summary>
internal static class Gated
{
    private const int Words = 200;

    // Words that are looked up again. The first ones, met again at once, cost a dictionary less than the others do.
#if SLOWED
    private const int AgainByDictionary = 14;
    private const int AgainBySearch = 10;
    private const int AgainByHash = 6;
#else
    private const int AgainByDictionary = 0;
    private const int AgainBySearch = 0;
    private const int AgainByHash = 0;
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

        public int ByDictionary()
        {
            var sum = 0;
            for (var index = 0; index < Words; index++)
            {
                sum += _lengths.TryGetValue(_words[index], out var length) ? length : 0;
            }

            for (var index = 0; index < AgainByDictionary; index++)
            {
                _sink += _lengths.TryGetValue(_words[index], out var length) ? length : 0;
            }

            return sum;
        }

        public int BySearch()
        {
            var sum = 0;
            for (var index = 0; index < Words; index++)
            {
                sum += Array.BinarySearch(_sorted, _words[index], StringComparer.Ordinal) >= 0 ? _words[index].Length : 0;
            }

            for (var index = 0; index < AgainBySearch; index++)
            {
                _sink += Array.BinarySearch(_sorted, _words[index], StringComparer.Ordinal);
            }

            return sum;
        }

        public int ByHash()
        {
            var sum = 0;
            for (var index = 0; index < Words; index++)
            {
                sum += Hash(_words[index]) == 0 ? 0 : _words[index].Length;
            }

            for (var index = 0; index < AgainByHash; index++)
            {
                _sink += Hash(_words[index]);
            }

            return sum;
        }

        private static int Hash(string word)
        {
            var hash = 17;
            foreach (var letter in word)
            {
                hash = (hash * 31) + letter;
            }

            return hash;
        }
    }
}
