using System.Text;
using Tachyscope;

/// <summary>Lamp signals in dots and dashes turned into letters: over the table, over spans of the line, down a tree.</summary>
internal static class LampSignals
{
    private static readonly string[] Letters =
    [
        "A.-", "B-...", "C-.-.", "D-..", "E.", "F..-.", "G--.", "H....", "I..", "J.---", "K-.-", "L.-..", "M--", "N-.", "O---", "P.--.",
        "Q--.-", "R.-.", "S...", "T-", "U..-", "V...-", "W.--", "X-..-", "Y-.--", "Z--..",
    ];

    private static readonly Dictionary<string, char> Table = Letters.ToDictionary(letter => letter[1..], letter => letter[0]);
    private static readonly Dictionary<string, char>.AlternateLookup<ReadOnlySpan<char>> SpanTable
        = Table.GetAlternateLookup<ReadOnlySpan<char>>();
    private static readonly string Tree = PlantTree();

    public static Study Study => Tachyscope.Study
        .Of("decode lamp signals")
        .Input("a greeting", () => Encode("GOOD MORNING SABLE POINT"))
        .Input("a long report", () => Encode(Report(words: 120, seed: 5)))
        .Baseline("split into a table", DecodeBySplitting)
        .Variant("split into an array", DecodeByArray)
        .Variant("spans into a table", DecodeBySpans)
        .Variant("down a tree", DecodeByTree);

    /// <summary>Splits the line into words and letters and looks each up, in stages that are timed apart.</summary>
    private static string DecodeBySplitting(string signals)
    {
        string[][] words;
        using (Stage.Open("split"))
        {
            words = [.. signals.Split(" / ").Select(word => word.Split(' '))];
        }

        string[] decoded;
        using (Stage.Open("look up"))
        {
            decoded = [.. words.Select(letters => string.Concat(letters.Select(letter => Table[letter])))];
        }

        using (Stage.Open("join"))
        {
            return string.Join(' ', decoded);
        }
    }

    /// <summary>The same stages, with each letter looked up by its signs as a number.</summary>
    private static string DecodeByArray(string signals)
    {
        string[][] words;
        using (Stage.Open("split"))
        {
            words = [.. signals.Split(" / ").Select(word => word.Split(' '))];
        }

        string[] decoded;
        using (Stage.Open("look up"))
        {
            decoded = [.. words.Select(letters => string.Create(letters.Length, letters, static (word, from) =>
            {
                for (var letter = 0; letter < word.Length; letter++)
                {
                    word[letter] = Tree[Node(from[letter])];
                }
            }))];
        }

        using (Stage.Open("join"))
        {
            return string.Join(' ', decoded);
        }
    }

    private static int Node(string signs)
    {
        var node = 0;
        foreach (var sign in signs)
        {
            node = (2 * node) + (sign == '.' ? 1 : 2);
        }

        return node;
    }

    /// <summary>Looks letters up without cutting the line apart.</summary>
    private static string DecodeBySpans(string signals)
    {
        var decoded = new StringBuilder(signals.Length / 3);
        var line = signals.AsSpan();
        foreach (var range in line.Split(' '))
        {
            var letter = line[range];
            decoded.Append(letter is "/" ? ' ' : SpanTable[letter]);
        }

        return decoded.ToString();
    }

    /// <summary>Walks down a tree, left on a dot and right on a dash, and allocates nothing but the answer.</summary>
    private static string DecodeByTree(string signals)
    {
        Span<char> decoded = stackalloc char[2_048];
        var length = 0;
        var node = 0;
        foreach (var signal in signals)
        {
            switch (signal)
            {
                case '.':
                    node = (2 * node) + 1;
                    break;
                case '-':
                    node = (2 * node) + 2;
                    break;
                case '/':
                    decoded[length++] = ' ';
                    break;
                default:
                    if (node > 0)
                    {
                        decoded[length++] = Tree[node];
                        node = 0;
                    }

                    break;
            }
        }

        if (node > 0)
        {
            decoded[length++] = Tree[node];
        }

        return new string(decoded[..length]);
    }

    private static string PlantTree()
    {
        var tree = new char[31];
        Array.Fill(tree, '?');
        foreach (var letter in Letters)
        {
            tree[letter[1..].Aggregate(0, (node, signal) => (2 * node) + (signal == '.' ? 1 : 2))] = letter[0];
        }

        return new string(tree);
    }

    private static string Encode(string text)
        => string.Join(" / ", text.Split(' ').Select(word => string.Join(' ', word.Select(letter => Letters[letter - 'A'][1..]))));

    private static string Report(int words, int seed)
    {
        var random = new Random(seed);
        return string.Join(' ', Enumerable.Range(0, words).Select(_ =>
            string.Concat(Enumerable.Range(0, random.Next(2, 9)).Select(_ => (char)('A' + random.Next(26))))));
    }
}
