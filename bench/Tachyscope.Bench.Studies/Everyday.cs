using System.Buffers;
using System.Collections.Frozen;
using System.Globalization;
using System.Numerics;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace Tachyscope.Bench.Studies;

/// <summary>
/// What programs do all day at the signal station, each in two ways or three: no chains of known cost, but look-ups, texts, objects,
/// exceptions.
/// </summary>
internal static partial class Everyday
{
    private const string Day = "everyday";

    /// <summary>The studies, all named "everyday: …".</summary>
    public static IEnumerable<Study> All
    {
        get
        {
            yield return Of("joined text").Input("ten numbers", () => Enumerable.Range(0, 10).ToArray())
                .Baseline("plus", Plus).Variant("builder", Builder).Variant("string.Concat", Concat);
            yield return Of("look-up by name").Input("a hundred vessels", () => new Register())
                .Baseline("dictionary", register => register.Numbers["vessel 1550"])
                .Variant("frozen", register => register.Frozen["vessel 1550"]);
            yield return Of("is it in").Input("64 berths", () => new Berths())
                .Baseline("list", berths => berths.List.Contains(33)).Variant("set", berths => berths.Set.Contains(33));
            yield return Of("sum of levels").Input("a thousand", () => Numbers(1_000, seed: 5))
                .Baseline("loop", SumByLoop).Variant("two sums", SumByTwo).Variant("LINQ", levels => levels.Sum()).Agree(tolerance: 1e-9);
            yield return Of("gone through").Input("a thousand", () => Enumerable.Range(0, 1_000).ToList())
                .Baseline("for", ThroughFor).Variant("foreach", ThroughEach)
                .Variant("LINQ", list => list.Aggregate(0, (all, one) => all ^ one));
            yield return Of("in order").Input("two hundred", () => Whole(200, seed: 6))
                .Baseline("Array.Sort", Sorted).Variant("OrderBy", numbers => numbers.Order().ToArray());
            yield return Of("in order, many").Input("two hundred thousand", () => Whole(200_000, seed: 6))
                .Baseline("Array.Sort", Sorted).Variant("OrderBy", numbers => numbers.Order().ToArray());
            yield return Of("words").Input("forty", () => string.Join(' ', Enumerable.Range(0, 40).Select(number => $"w{number * 17}")))
                .Baseline("Split", line => line.Split(' ').Length).Variant("spans", WordsBySpan);
            yield return Of("whole number read").Input("eight digits", () => "73019554")
                .Baseline("int.Parse", text => int.Parse(text, CultureInfo.InvariantCulture)).Variant("by hand", ParseByHand);
            yield return Of("as JSON").Input("a vessel", () => new Vessel(7, "Bright Lamp", "berth 12", true))
                .Baseline("serializer", vessel => JsonSerializer.Serialize(vessel)).Variant("writer", JsonByWriter);
            yield return Of("a call sign found").Input("a log line", () => "04:17 passed SP-3381 outbound, wind NW 5, visibility good")
                .Baseline("regular expression", line => CallSign().Match(line).Index).Variant("by hand", CallSignByHand);
            yield return Of("not a number").Input("a name", () => "lamp")
                .Baseline("thrown and caught", Caught)
                .Variant("TryParse", text => int.TryParse(text, CultureInfo.InvariantCulture, out var number) ? number : -1);
            yield return Of("filled").Input("a hundred", () => 100)
                .Baseline("list", FilledList).Variant("list of known size", FilledSized).Variant("set", FilledSet);
            yield return Of("added up").Input("120 each", () => new Pair(Numbers(120, seed: 7), Numbers(120, seed: 8), new double[120]))
                .Baseline("loop", AddByLoop).Variant("vectors", AddByVectors);
            yield return Of("far apart").Input("32 MB", () => new Chart(4_194_304))
                .Baseline("in order", chart => chart.Walk(chart.InOrder)).Variant("in no order", chart => chart.Walk(chart.Shuffled))
                .Agree((_, _) => true);
            yield return Of("waited for").Input("a reply", () => 2)
                .Baseline("delay", async milliseconds => { await Task.Delay(milliseconds); return milliseconds; })
                .Variant("yield", async milliseconds => { await Task.Yield(); return milliseconds; });
            yield return Of("fifty milliseconds").Input("a wait", () => 50)
                .Baseline("delay", async milliseconds => { await Task.Delay(milliseconds); return milliseconds; })
                .Variant("sleep", milliseconds => { Thread.Sleep(milliseconds); return Task.FromResult(milliseconds); });
        }
    }

    private static StudyDraft Of(string name) => Study.Of($"{Day}: {name}");

    private static double[] Numbers(int count, int seed)
    {
        var random = new Random(seed);
        return [.. Enumerable.Range(0, count).Select(_ => random.NextDouble())];
    }

    private static int[] Whole(int count, int seed)
    {
        var random = new Random(seed);
        return [.. Enumerable.Range(0, count).Select(_ => random.Next())];
    }

    private static string Plus(int[] numbers)
    {
        var text = "";
        foreach (var number in numbers)
        {
            text += number;
        }

        return text;
    }

    private static string Builder(int[] numbers)
    {
        var text = new StringBuilder();
        foreach (var number in numbers)
        {
            text.Append(number);
        }

        return text.ToString();
    }

    private static string Concat(int[] numbers) => string.Concat(numbers);

    internal static double SumByLoop(double[] levels)
    {
        var sum = 0.0;
        foreach (var level in levels)
        {
            sum += level;
        }

        return sum;
    }

    private static double SumByTwo(double[] levels)
    {
        var (one, other) = (0.0, 0.0);
        for (var i = 0; i + 1 < levels.Length; i += 2)
        {
            one += levels[i];
            other += levels[i + 1];
        }

        return one + other;
    }

    private static int ThroughFor(List<int> list)
    {
        var all = 0;
        for (var i = 0; i < list.Count; i++)
        {
            all ^= list[i];
        }

        return all;
    }

    private static int ThroughEach(List<int> list)
    {
        var all = 0;
        foreach (var one in list)
        {
            all ^= one;
        }

        return all;
    }

    private static int[] Sorted(int[] numbers)
    {
        var sorted = (int[])numbers.Clone();
        Array.Sort(sorted);
        return sorted;
    }

    private static int WordsBySpan(string line)
    {
        var words = 1;
        for (var rest = line.AsSpan(); rest.IndexOf(' ') is >= 0 and var end; rest = rest[(end + 1)..])
        {
            words++;
        }

        return words;
    }

    private static int ParseByHand(string text)
    {
        var number = 0;
        foreach (var digit in text)
        {
            number = (number * 10) + (digit - '0');
        }

        return number;
    }

    private static string JsonByWriter(Vessel vessel)
    {
        var buffer = new ArrayBufferWriter<byte>(128);
        using var writer = new Utf8JsonWriter(buffer);
        writer.WriteStartObject();
        writer.WriteNumber("Number", vessel.Number);
        writer.WriteString("Name", vessel.Name);
        writer.WriteString("Berth", vessel.Berth);
        writer.WriteBoolean("IsMoored", vessel.IsMoored);
        writer.WriteEndObject();
        writer.Flush();
        return Encoding.UTF8.GetString(buffer.WrittenSpan);
    }

    [GeneratedRegex("[A-Z]{2}-[0-9]{4}", RegexOptions.CultureInvariant)]
    private static partial Regex CallSign();

    private static int CallSignByHand(string line)
    {
        for (var dash = line.IndexOf('-', StringComparison.Ordinal); dash >= 2; dash = line.IndexOf('-', dash + 1))
        {
            if (char.IsAsciiLetterUpper(line[dash - 1]) && char.IsAsciiLetterUpper(line[dash - 2]) && dash + 4 < line.Length
                && !line.AsSpan(dash + 1, 4).ContainsAnyExceptInRange('0', '9'))
            {
                return dash - 2;
            }
        }

        return -1;
    }

    private static int Caught(string text)
    {
        try
        {
            return int.Parse(text, CultureInfo.InvariantCulture);
        }
        catch (FormatException)
        {
            return -1;
        }
    }

    private static int FilledList(int count)
    {
        var list = new List<int>();
        for (var i = 0; i < count; i++)
        {
            list.Add(i);
        }

        return list.Count;
    }

    private static int FilledSized(int count)
    {
        var list = new List<int>(count);
        for (var i = 0; i < count; i++)
        {
            list.Add(i);
        }

        return list.Count;
    }

    private static int FilledSet(int count)
    {
        var set = new HashSet<int>();
        for (var i = 0; i < count; i++)
        {
            set.Add(i);
        }

        return set.Count;
    }

    private static double AddByLoop(Pair pair)
    {
        for (var i = 0; i < pair.Sum.Length; i++)
        {
            pair.Sum[i] = pair.One[i] + pair.Other[i];
        }

        return pair.Sum[^1];
    }

    private static double AddByVectors(Pair pair)
    {
        for (var i = 0; i <= pair.Sum.Length - Vector<double>.Count; i += Vector<double>.Count)
        {
            (new Vector<double>(pair.One, i) + new Vector<double>(pair.Other, i)).CopyTo(pair.Sum, i);
        }

        return pair.Sum[^1];
    }

    internal sealed record Vessel(int Number, string Name, string Berth, bool IsMoored);

    private sealed record Pair(double[] One, double[] Other, double[] Sum);

    private sealed class Register
    {
        public Register()
        {
            Numbers = Enumerable.Range(0, 100).ToDictionary(number => $"vessel {number * 31}", number => number);
            Frozen = Numbers.ToFrozenDictionary();
        }

        public Dictionary<string, int> Numbers { get; }

        public FrozenDictionary<string, int> Frozen { get; }
    }

    private sealed class Berths
    {
        public List<int> List { get; } = [.. Enumerable.Range(0, 64)];

        public HashSet<int> Set { get; } = [.. Enumerable.Range(0, 64)];
    }

    // Each place names the next, so that nothing can be read ahead but what lies beside it.
    private sealed class Chart
    {
        private const int Steps = 1_000;

        public Chart(int places)
        {
            InOrder = [.. Enumerable.Range(1, places - 1), 0];
            int[] order = [.. Enumerable.Range(0, places)];
            new Random(9).Shuffle(order);
            Shuffled = new int[places];
            for (var i = 0; i < places; i++)
            {
                Shuffled[order[i]] = order[(i + 1) % places];
            }
        }

        public int[] InOrder { get; }

        public int[] Shuffled { get; }

        private int _at;

        public int Walk(int[] next)
        {
            var at = _at;
            for (var step = 0; step < Steps; step++)
            {
                at = next[at];
            }

            return _at = at;
        }
    }
}
